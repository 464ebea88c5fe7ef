import { useRef, useState } from "react";
import { follow } from "../parts/press";

export type Bezier = [number, number, number, number];

interface Room {
  /** Pixels to the right for 1 of the time, and upwards for 1 of the way; the latter is below 0 where it falls. */
  perX: number;
  perY: number;
  /** Places of the way, beside flat, that draw a handle at a share of the time. */
  goals?: (which: 0 | 1, x: number) => number[];
  attempt: (bezier: Bezier) => void;
  keep: (bezier: Bezier, run?: string) => unknown;
  /** A handle is in the hand, or was let go. */
  begun?: (on: boolean) => void;
}

const NEAR = 0.04;
const two = (n: number) => Math.round(n * 100) / 100;

/** A value snapped to the places that matter: flat (0 and 1), and those given. */
const drawn = (y: number, goals: number[]) => [0, 1, ...goals].find((goal) => Math.abs(goal - y) < NEAR) ?? two(y);

/** Dragging the two handles of a bezier; Esc gives back. */
export function useBezierDrag(numbers: Bezier | null, room: Room) {
  const [dragged, setDragged] = useState<Bezier | null>(null);
  /** Handles that were sent and are not answered yet. */
  const sent = useRef<Bezier | null>(null);
  const latest = useRef(room);
  latest.current = room;

  const take = (event: React.PointerEvent, which: 0 | 1) => {
    if (!numbers || event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    const { clientX, clientY } = event;
    let last = numbers;
    latest.current.begun?.(true);
    follow({
      move: (moved) => {
        const { perX, perY, goals, attempt } = latest.current;
        const x = Math.min(Math.max(numbers[2 * which] + (moved.clientX - clientX) / perX, 0), 1);
        const y = numbers[2 * which + 1] - (moved.clientY - clientY) / perY;
        const free = moved.ctrlKey || moved.metaKey;
        const next = [...numbers] as Bezier;
        next[2 * which] = two(x);
        next[2 * which + 1] = free ? two(y) : two(drawn(Math.min(Math.max(y, -2), 3), goals?.(which, two(x)) ?? []));
        last = next;
        setDragged(next);
        attempt(next);
      },
      end: () => {
        latest.current.begun?.(false);
        setDragged(null);
        if (last !== numbers) latest.current.keep(last);
      },
      cancel: () => {
        latest.current.begun?.(false);
        latest.current.attempt(numbers);
        setDragged(null);
      },
    });
  };

  return {
    shown: dragged ?? numbers,
    start: take,
    /** Arrows move a handle by 0.01 (Shift: 0.1), from where it was sent last; a run of them is one step to undo. */
    nudge: (event: React.KeyboardEvent, which: 0 | 1) => {
      const steps: Record<string, [number, number]> = {
        ArrowLeft: [-1, 0],
        ArrowRight: [1, 0],
        ArrowUp: [0, 1],
        ArrowDown: [0, -1],
      };
      const step = steps[event.key];
      const from = sent.current ?? numbers;
      if (!step || !from) return;
      event.preventDefault();
      event.stopPropagation();
      const far = event.shiftKey ? 0.1 : 0.01;
      const next = [...from] as Bezier;
      next[2 * which] = two(Math.min(Math.max(next[2 * which] + step[0] * far, 0), 1));
      next[2 * which + 1] = two(next[2 * which + 1] + step[1] * far);
      sent.current = next;
      void Promise.resolve(latest.current.keep(next, "handle")).finally(() => {
        if (sent.current === next) sent.current = null;
      });
    },
  };
}
