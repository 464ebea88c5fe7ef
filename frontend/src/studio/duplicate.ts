import { freshId } from "../api/token";
import { select } from "./selection";
import type { Session } from "./session";

/** Copy layers, and select the copies in place of them. */
export async function duplicate(session: Session, layers: string[]) {
  if (!layers.length) return;
  const ids = layers.map(freshId);
  if (await session.edit({ edit: "duplicate_layers", layers, ids })) select(...ids);
}
