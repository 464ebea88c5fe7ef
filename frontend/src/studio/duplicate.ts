import { freshId } from "../api/token";
import { isItem, parentOf, placeIn } from "./items";
import { select } from "./selection";
import type { Session } from "./session";

/** Copy layers, and select the copies in place of them. */
export async function duplicate(session: Session, layers: string[]) {
  if (!layers.length) return;
  if (isItem(layers[0])) {
    // A copy stands right in front of its original.
    const [first] = layers;
    if (await session.edit({ edit: "duplicate_layers", layers })) select(`${parentOf(first)}/${placeIn(first) + 1}`);
    return;
  }
  const ids = layers.map(freshId);
  if (await session.edit({ edit: "duplicate_layers", layers, ids })) select(...ids);
}
