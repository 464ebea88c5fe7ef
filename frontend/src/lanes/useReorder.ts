import { type RefObject, useCallback, useRef, useState } from "react";
import type { Layer } from "../api/client";
import { follow } from "../parts/press";
import { type Session, useSession } from "../session/session";
import { selection } from "../state/selection";

const EDGE = 22;

/** Dragging layers up and down among the names; a line shows where they would go. Esc gives back. */
export function useReorder(list: RefObject<HTMLDivElement | null>, layers: Layer[], heights: number[]) {
  const session = useSession();
  const [line, setLine] = useState<number | null>(null);
  const latest = useRef({ layers, heights });
  latest.current = { layers, heights };

  const startReorder = useCallback(
    (event: React.PointerEvent, id: string) => {
      if (event.button !== 0) return;
      const from = event.clientY;
      let place: number | null = null;
      let pointer = from;
      let scrolling = 0;
      const stop = () => {
        window.clearInterval(scrolling);
        scrolling = 0;
        setLine(null);
      };
      const move = (moved: { clientY: number }) => {
        if (place === null && Math.abs(moved.clientY - from) < 5) return;
        pointer = moved.clientY;
        scrolling ||= window.setInterval(scroll, 30);
        const box = list.current!.getBoundingClientRect();
        const y = moved.clientY - box.top + list.current!.scrollTop;
        let top = 0;
        place = 0;
        for (const height of latest.current.heights) {
          if (y < top + height / 2) break;
          top += height;
          place += 1;
        }
        setLine(top);
      };
      /** At the edge of the list it scrolls, the faster the further beyond. */
      const scroll = () => {
        const box = list.current!.getBoundingClientRect();
        const over = Math.min(pointer - box.top - EDGE, 0) + Math.max(pointer - box.bottom + EDGE, 0);
        if (!over) return;
        list.current!.scrollTop += Math.sign(over) * Math.min(2 + Math.abs(over) / 2, 24);
        move({ clientY: pointer });
      };
      const end = () => {
        stop();
        if (place !== null) reorder(session, latest.current.layers, id, place);
      };
      follow({ move, end, cancel: stop });
    },
    [session, list],
  );
  return { startReorder, line };
}

/** Put a layer, and those selected with it, at a place among the rows. */
function reorder(session: Session, layers: Layer[], id: string, place: number) {
  const chosen = selection().selected.includes(id) ? selection().selected : [id];
  const moved = layers.map((layer) => layer.id!).filter((one) => chosen.includes(one));
  const rest = layers.map((layer) => layer.id!).filter((one) => !chosen.includes(one));
  const above = layers.slice(0, place).filter((layer) => !chosen.includes(layer.id!)).length;
  const order = [...rest.slice(0, above), ...moved, ...rest.slice(above)];
  if (order.join() === layers.map((layer) => layer.id).join()) return;
  const edits = moved.toReversed().map((one) => ({
    edit: "reorder_layer" as const,
    layer: one,
    to: layers.length - 1 - order.indexOf(one),
  }));
  void session.edit(...edits);
}
