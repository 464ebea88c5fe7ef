import { pathIn } from "./drawnPath";
import { isItem, itemsOf, parentOf, within } from "./items";
import { select, selection, setSelection } from "./selection";
import type { Session } from "./session";

/**
 * The shape that going into a layer or a group selects: the first that `wanted` leaves of those in it, front first; null
 * where there is none. A layer of one shape without a motion of its own is gone into as well.
 */
export function goInto(
  session: Session,
  id: string,
  wanted: (ids: string[]) => string[] = (ids) => ids,
): string | null {
  const layer = session.layer(id);
  if (!layer || layer.locked || !itemsOf(layer).length) return null;
  const inside = within(layer);
  return wanted(inside)[0] ?? null;
}

/** Go into a layer, a group, or the points of a path; whether there was a way in. */
export function enter(session: Session, id: string, wanted?: (ids: string[]) => string[]): boolean {
  const layer = session.layer(id);
  if (!layer || layer.locked) return false;
  if (pathIn(layer)) {
    setSelection({ points: [] });
    if (selection().selected.join() !== id) {
      select(id);
      setSelection({ points: [] });
    }
    return true;
  }
  const shape = goInto(session, id, wanted);
  if (shape) select(shape);
  return shape !== null;
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
  if (first && isItem(first)) select(parentOf(first));
  else select();
}
