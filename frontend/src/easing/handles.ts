import { useEffect, useRef, useState } from "react";

export type Bezier = [number, number, number, number];

interface Room {
  /** Pixels to the right for 1 of the time, and upwards for 1 of the way; the latter is below 0 where it falls. */
  perX: number;
  perY: number;
  /** Places of the way, beside flat, that draw a handle at a share of the time. */
  goals?: (which: 0 | 1, x: number) => number[];
  attempt: (bezier: Bezier) => void;
  keep: (bezier: Bezier) => void;
}

const NEAR = 0.04;
const two = (n: number) => Math.round(n * 100) / 100;

/** A value drawn to the places that matter: flat (0 and 1), and those given. */
const drawn = (y: number, goals: number[]) => [0, 1, ...goals].find((goal) => Math.abs(goal - y) < NEAR) ?? two(y);

/** Dragging the two handles of a bezier; Esc gives back. */
export function useBezierDrag(numbers: Bezier | null, room: Room) {
  const [dragged, setDragged] = useState<Bezier | null>(null);
  const active = useRef<{ which: 0 | 1; x: number; y: number; from: Bezier; last: Bezier } | null>(null);
  const latest = useRef(room);
  latest.current = room;

  useEffect(() => {
    const move = (event: PointerEvent) => {
      const now = active.current;
      if (!now) return;
      const { perX, perY, goals, attempt } = latest.current;
      const x = Math.min(Math.max(now.from[2 * now.which] + (event.clientX - now.x) / perX, 0), 1);
      const y = now.from[2 * now.which + 1] - (event.clientY - now.y) / perY;
      const free = event.ctrlKey || event.metaKey;
      const next = [...now.from] as Bezier;
      next[2 * now.which] = two(x);
      next[2 * now.which + 1] = free
        ? two(y)
        : two(drawn(Math.min(Math.max(y, -2), 3), goals?.(now.which, two(x)) ?? []));
      now.last = next;
      setDragged(next);
      attempt(next);
    };
    const end = () => {
      const now = active.current;
      active.current = null;
      setDragged(null);
      if (now && now.last !== now.from) latest.current.keep(now.last);
    };
    const give = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !active.current) return;
      event.stopImmediatePropagation();
      latest.current.attempt(active.current.from);
      active.current = null;
      setDragged(null);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", end);
    window.addEventListener("keydown", give, true);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", end);
      window.removeEventListener("keydown", give, true);
    };
  }, []);

  return {
    shown: dragged ?? numbers,
    start: (event: React.PointerEvent, which: 0 | 1) => {
      if (!numbers || event.button !== 0) return;
      event.preventDefault();
      event.stopPropagation();
      active.current = { which, x: event.clientX, y: event.clientY, from: numbers, last: numbers };
    },
    /** Arrows move a handle by 0.01 (Shift: 0.1). */
    nudge: (event: React.KeyboardEvent, which: 0 | 1) => {
      const steps: Record<string, [number, number]> = {
        ArrowLeft: [-1, 0],
        ArrowRight: [1, 0],
        ArrowUp: [0, 1],
        ArrowDown: [0, -1],
      };
      const step = steps[event.key];
      if (!step || !numbers) return;
      event.preventDefault();
      event.stopPropagation();
      const far = event.shiftKey ? 0.1 : 0.01;
      const next = [...numbers] as Bezier;
      next[2 * which] = two(Math.min(Math.max(next[2 * which] + step[0] * far, 0), 1));
      next[2 * which + 1] = two(next[2 * which + 1] + step[1] * far);
      latest.current.keep(next);
    },
  };
}
