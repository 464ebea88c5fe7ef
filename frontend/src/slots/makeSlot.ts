import type { Edit } from "../api/client";
import type { Session } from "../session/session";
import { say, setPage } from "../state/page";

/** Make a property of a layer or a shape a slot, and say where slots are. */
export async function makeSlot(session: Session, layer: string, path: string, label: string): Promise<void> {
  const kept = await session.edit({ edit: "make_slot", layer, path } as Edit);
  if (!kept) return;
  say(`${label} is a slot now: the drawer Slots fills it, a table does, and a scene that shows this one.`, true);
}

/** Open the drawer of slots. */
export const openSlots = () => setPage({ drawer: "slots" });
