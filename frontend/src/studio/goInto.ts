import { isItem, itemsOf, parentOf, within } from "./items";
import { select } from "./selection";
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

/** From a shape to what it lies in; from a layer to nothing. */
export function goOut(selected: string[]) {
  const [first] = selected;
  if (first && isItem(first)) select(parentOf(first));
  else select();
}
