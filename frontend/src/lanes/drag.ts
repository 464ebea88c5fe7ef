import { useEffect, useRef } from "react";

/** A horizontal drag in frames: told with every change, kept or given back at its end. Esc gives back. */
export interface FrameDrag {
  move(by: number): void;
  end(by: number): void;
  cancel(): void;
}

/** Starts drags on pointer down; `frameWidth` is the width of a frame in pixels. */
export function useFrameDrag(frameWidth: number) {
  const active = useRef<{ x: number; by: number; drag: FrameDrag } | null>(null);
  const width = useRef(frameWidth);
  width.current = frameWidth;

  useEffect(() => {
    const move = (event: PointerEvent) => {
      const now = active.current;
      if (!now) return;
      const by = Math.round((event.clientX - now.x) / width.current);
      if (by === now.by) return;
      now.by = by;
      now.drag.move(by);
    };
    const up = () => {
      const now = active.current;
      active.current = null;
      if (now) now.by === 0 ? now.drag.cancel() : now.drag.end(now.by);
    };
    const give = (event?: KeyboardEvent) => {
      if (event && event.key !== "Escape") return;
      active.current?.drag.cancel();
      active.current = null;
    };
    const lost = () => give();
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", lost);
    window.addEventListener("keydown", give);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", lost);
      window.removeEventListener("keydown", give);
    };
  }, []);

  return (event: React.PointerEvent, drag: FrameDrag) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    active.current = { x: event.clientX, by: 0, drag };
  };
}
