import type { Layer } from "../api/client";
import { Flex } from "../parts/styled";
import { DraftInput } from "../parts/TextInput";
import { useSession } from "../session/session";
import { setSelection } from "../state/selection";

/** The name of a layer, or of a shape, while it is typed in its row; when it is left the name stands there again. */
export function NameField({ layer, label }: { layer: Layer; label: string }) {
  const session = useSession();
  const done = () => setSelection(({ renaming }) => (renaming === layer.id ? { renaming: null } : {}));
  return (
    <Flex
      flex="1"
      minWidth="0"
      onFocus={(event) => (event.target as HTMLInputElement).select()}
      onBlur={done}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
    >
      <DraftInput
        autoFocus
        label={label}
        text={layer.name}
        height="21px"
        width="100%"
        px="1"
        take={(name) => session.edit({ edit: "rename_layer", layer: layer.id!, name })}
      />
    </Flex>
  );
}
