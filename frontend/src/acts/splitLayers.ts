import { freshId } from "../api/token";
import type { Session } from "../session/session";
import { select } from "../state/selection";

/** Cut layers in two at a frame; the halves that are seen there, the later ones, are selected. */
export async function splitLayers(session: Session, layers: string[], frame: number) {
  const later = layers.map(() => freshId());
  const edits = layers.map((layer, i) => ({ edit: "split_layer" as const, layer, frame, id: later[i] }) as never);
  if (await session.edit(...edits)) select(...later);
}
