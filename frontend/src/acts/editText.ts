import { hasWords, writtenBy } from "../document/contents";
import { isThere } from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { say } from "../state/page";
import { setPlayback } from "../state/playback";
import { select, setSelection } from "../state/selection";

/** Whether a layer is a text that can be edited on the stage. */
export const isText = (session: Session, id: string | undefined) =>
  id !== undefined && session.layer(id) !== undefined && hasWords(session.layer(id)!.content);

/** Edit a text where it stands; said why where it cannot be. */
export function editText(session: Session, id: string) {
  const layer = session.layer(id);
  const arrays = session.frames.layer(id);
  if (layer?.locked) say(`'${layer.name}' is locked. Unlock it in the lanes to change it.`);
  else if (layer && writtenBy(layer))
    say(`The text of '${layer.name}' is written by a formula. Its words and its formula stand in the panel.`);
  else if (layer && hasWords(layer.content) && layer.content.path)
    say(`'${layer.name}' runs along a path. Its words stand in the panel.`);
  else if (!arrays || !isThere(arrays, session.frames.frame))
    say(`'${layer?.name}' does not show here. Move the playhead to where it does, or edit its text in the panel.`);
  else {
    select(id);
    setSelection({ editing: id });
    setPlayback({ playing: false });
  }
}
