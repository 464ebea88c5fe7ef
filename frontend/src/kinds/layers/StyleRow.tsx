import { Plus, RefreshCw, X } from "lucide-react";
import { useRef, useState } from "react";
import type { Layer } from "../../api/client";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { IconButton } from "../../parts/IconButton";
import { NameInput } from "../../parts/NameInput";
import { Select } from "../../parts/Select";
import { useProjectStyles } from "../../session/named";
import { useSession } from "../../session/session";
import type { TextContent } from "./textScope";

/** The style of the project that a text follows; the style is changed to how the text looks, or a new one made of it. */
export function StyleRow({ layer }: { layer: Layer }) {
  const session = useSession();
  const { styles, keep, drop } = useProjectStyles();
  const [naming, setNaming] = useState(false);
  const busy = useRef(false);
  const content = layer.content as TextContent;
  const used = styles.find(({ id }) => id === content.style);
  const follow = (id: string | null, name = "Style", look?: unknown) =>
    session.edit({ edit: "use_style", layers: [layer.id!], style: id, name, look: (look ?? null) as never });
  const make = async (name: string) => {
    if (busy.current) return;
    busy.current = true;
    const style = await keep(name, session.sceneId, layer.id!);
    busy.current = false;
    // What was typed stays until it is kept.
    if (!style) return;
    setNaming(false);
    void follow(style.id, name, style.look);
  };
  if (naming) return <Naming done={(name) => (name ? void make(name) : busy.current || setNaming(false))} />;
  return (
    <Row label="Style">
      <RowLabel title="A look that texts of the project have in common">Style</RowLabel>
      <Select
        label="Style"
        width="118px"
        disabled={layer.locked}
        value={used ? used.id : ""}
        options={[["", "of its own"], ...styles.map(({ id, name }) => [id, name] as [string, string])]}
        onChange={(id) => {
          const style = styles.find((one) => one.id === id);
          void follow(style?.id ?? null, style?.name, style?.look);
        }}
      />
      {used && (
        <>
          <IconButton
            label={`Let ${used.name} be as this text is, everywhere`}
            onClick={() => void keep(used.name, session.sceneId, layer.id!, used.id)}
          >
            <RefreshCw size={12} />
          </IconButton>
          <IconButton label={`Take ${used.name} out of the project`} onClick={() => void drop(used.name)}>
            <X size={12} />
          </IconButton>
        </>
      )}
      <IconButton label="Keep how it looks as a style" disabled={layer.locked} onClick={() => setNaming(true)}>
        <Plus size={13} />
      </IconButton>
    </Row>
  );
}

function Naming({ done }: { done: (name: string | null) => void }) {
  const [typed, setTyped] = useState("");
  return (
    <Row label="Style">
      <RowLabel>Style</RowLabel>
      <NameInput
        label="Name of the style"
        placeholder="Name, then Enter"
        width="150px"
        value={typed}
        change={setTyped}
        take={() => done(typed.trim() || null)}
        leave={() => done(null)}
        onBlur={() => done(null)}
      />
    </Row>
  );
}
