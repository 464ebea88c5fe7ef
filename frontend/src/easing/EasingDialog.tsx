import { easeOf } from "../document/tracks";
import { Window } from "../fields/Window";
import { Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useSelection } from "../state/selection";
import { EasingEditor } from "./EasingEditor";

/** The easing editor for the selected keys. */
export function EasingDialog() {
  return (
    <Window name="easing" title="Easing of the selected keys" width="324px">
      <Chosen />
    </Window>
  );
}

function Chosen() {
  const session = useSession();
  useScene();
  const keys = useSelection((state) => state.keys);
  if (!keys.length) return <Text>Select keys in the lanes first.</Text>;
  return <EasingEditor keys={keys} ease={easeOf(session, keys[0])} />;
}
