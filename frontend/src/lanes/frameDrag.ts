import { useRef } from "react";
import { snapped } from "../keys/snaps";
import { follow } from "../parts/press";
import { tools } from "../state/tools";
import { useScale } from "./scale";

/** A horizontal drag in frames: reported with every change, kept or given back at its end. Esc gives back. */
export interface FrameDrag {
  move(by: number): void;
  end(by: number): void;
  cancel(): void;
}

const NEAR = 6;

/** Starts drags on pointer down, magnetic where `places` are given (frames that move along). */
export function useFrameDrag() {
  const { frameWidth } = useScale();
  const width = useRef(frameWidth);
  width.current = frameWidth;

  return (event: React.PointerEvent, drag: FrameDrag, places: number[] = [], snaps: number[] = []) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const x = event.clientX;
    let by = 0;
    follow({
      move: (moved) => {
        let next = Math.round((moved.clientX - x) / width.current);
        if (next !== 0 && tools().magnet && !moved.ctrlKey && !moved.metaKey)
          next = Math.round(snapped(next, places, snaps, Math.min(NEAR / width.current, 3)));
        if (next === by) return;
        by = next;
        drag.move(by);
      },
      end: () => (by === 0 ? drag.cancel() : drag.end(by)),
      cancel: () => drag.cancel(),
    });
  };
}
