import { freshId } from "../api/token";
import { addressAt, isItem, parentOf, placeIn } from "../document/items";
import type { Session } from "../session/session";
import { select } from "../state/selection";

/** Copy layers, and select the copies in place of them. */
export async function duplicate(session: Session, layers: string[]) {
  if (!layers.length) return;
  if (isItem(layers[0])) {
    if (!(await session.edit({ edit: "duplicate_layers", layers }))) return;
    // A copy stands right in front of its original.
    const parent = session.layer(parentOf(layers[0]));
    if (parent) select(addressAt(parent, placeIn(parent, layers[0]) + 1));
    return;
  }
  const ids = layers.map(freshId);
  if (await session.edit({ edit: "duplicate_layers", layers, ids })) select(...ids);
}
