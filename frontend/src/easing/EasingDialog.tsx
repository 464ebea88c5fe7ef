import { Text } from "@chakra-ui/react";
import { Window } from "../parts/Window";
import { useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { easeOf } from "../scene/tracks";
import { EasingEditor } from "./EasingEditor";

/** The easing editor for the selected keys. */
export function EasingDialog() {
  return (
    <Window name="easing" title="Easing of the selected keys" width="300px">
      <Chosen />
    </Window>
  );
}

function Chosen() {
  const session = useSession();
  useScene();
  const keys = useChoices((state) => state.keys);
  if (!keys.length) return <Text>Select keys in the lanes first.</Text>;
  return <EasingEditor keys={keys} ease={easeOf(session, keys[0])} />;
}
