import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import type { Layer } from "../api/client";
import { choices } from "../scene/choices";
import { useSession } from "../scene/session";

/** Dragging layers up and down among the names; a line shows where they would go. Esc gives back. */
export function useReorder(list: RefObject<HTMLDivElement | null>, layers: Layer[], heights: number[]) {
  const session = useSession();
  const [line, setLine] = useState<number | null>(null);
  const active = useRef<{ id: string; y: number; place: number | null } | null>(null);
  const latest = useRef({ layers, heights });
  latest.current = { layers, heights };

  useEffect(() => {
    const stop = () => {
      active.current = null;
      setLine(null);
    };
    const move = (event: PointerEvent) => {
      const now = active.current;
      if (!now || (now.place === null && Math.abs(event.clientY - now.y) < 5)) return;
      const box = list.current!.getBoundingClientRect();
      const y = event.clientY - box.top + list.current!.scrollTop;
      let top = 0;
      let place = 0;
      for (const height of latest.current.heights) {
        if (y < top + height / 2) break;
        top += height;
        place += 1;
      }
      now.place = place;
      setLine(top);
    };
    const up = () => {
      const now = active.current;
      stop();
      if (!now || now.place === null) return;
      const { layers } = latest.current;
      const chosen = choices().selected.includes(now.id) ? choices().selected : [now.id];
      const moved = layers.map((layer) => layer.id!).filter((id) => chosen.includes(id));
      const rest = layers.map((layer) => layer.id!).filter((id) => !chosen.includes(id));
      const above = layers.slice(0, now.place).filter((layer) => !chosen.includes(layer.id!)).length;
      const order = [...rest.slice(0, above), ...moved, ...rest.slice(above)];
      if (order.join() === layers.map((layer) => layer.id).join()) return;
      const edits = moved.toReversed().map((id) => ({
        edit: "reorder_layer" as const,
        layer: id,
        to: layers.length - 1 - order.indexOf(id),
      }));
      void session.edit(...edits);
    };
    const give = (event: KeyboardEvent) => event.key === "Escape" && stop();
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", stop);
    window.addEventListener("keydown", give);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", stop);
      window.removeEventListener("keydown", give);
    };
  }, [session, list]);

  const startReorder = useCallback((event: React.PointerEvent, id: string) => {
    if (event.button === 0) active.current = { id, y: event.clientY, place: null };
  }, []);
  return { startReorder, line };
}
