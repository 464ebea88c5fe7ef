import type { Edit, Layer } from "../api/client";
import type { Session } from "../session/session";
import { page, setPage } from "../state/page";
import { select } from "../state/selection";

/** Take the scene that a layer shows apart; where something would change, what that is, and to do it all the same. */
export async function takeApart(session: Session, layer: Layer) {
  const edit: Edit = { edit: "take_apart", layer: layer.id!, anyway: false };
  const before = new Set((session.answer?.scene.layers ?? []).map(({ id }) => id));
  if (await session.edit(edit)) {
    const fresh = (session.answer?.scene.layers ?? []).flatMap(({ id }) => (before.has(id) ? [] : [id!]));
    select(...fresh);
    return;
  }
  const { said } = page();
  if (said?.where === "anyway")
    setPage({ said: { ...said, offer: { button: "Take apart anyway", edits: [{ ...edit, anyway: true }] } } });
}
