import { isItem, masksOf, outOf, within } from "../document/items";
import { pathIn } from "../session/drawnPath";
import type { Session } from "../session/session";
import { goIntoScene } from "../session/trail";
import { select, selection, setSelection } from "../state/selection";

/**
 * Go into a layer, a group, the scene that a layer shows, the masks of a layer that holds nothing else, or the points of a path; whether there was a way in. Of what lies in it the first that
 * `wanted` leaves is selected, front first.
 */
export function enter(session: Session, id: string, wanted = (ids: string[]) => ids): boolean {
  const layer = session.layer(id);
  if (!layer || layer.locked) return false;
  if (goIntoScene(session, layer)) return true;
  if (pathIn(layer)) {
    setSelection({ points: [] });
    if (selection().selected.join() !== id) {
      select(id);
      setSelection({ points: [] });
    }
    return true;
  }
  const inside = within(layer);
  const holder = inside.length ? undefined : session.layer(masksOf(id));
  const [shape] = wanted(holder ? within(holder) : inside);
  if (shape) select(shape);
  return shape !== undefined;
}

/** From points to no point, and to the path; from a shape to what it lies in; from a layer to nothing. */
export function goOut(selected: string[]) {
  const { points, gradient } = selection();
  if (gradient) {
    setSelection({ gradient: null });
    return;
  }
  if (points) {
    setSelection({ points: points.length ? [] : null });
    return;
  }
  const [first] = selected;
  if (first && isItem(first)) select(outOf(first));
  else select();
}
