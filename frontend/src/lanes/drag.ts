import { useRef } from "react";
import { follow } from "../parts/press";
import { choices } from "../scene/choices";
import type { Session } from "../scene/session";
import { keyFrames, tracksOf } from "../scene/tracks";
import { useScale } from "./scale";

/** A horizontal drag in frames: told with every change, kept or given back at its end. Esc gives back. */
export interface FrameDrag {
  move(by: number): void;
  end(by: number): void;
  cancel(): void;
}

const NEAR = 6;

/** What frames snap to: the playhead, beats, span ends, and keys, but for those that move. */
export function snapsOf(session: Session, moving: Set<string>): number[] {
  const { scene } = session.answer!;
  const found = new Set<number>([
    0,
    scene.length,
    session.frames.frame,
    ...(scene.beats ?? []).map((beat) => beat.frame),
  ]);
  for (const layer of scene.layers ?? []) {
    if (!moving.has(layer.id!)) {
      found.add(layer.span.start);
      found.add(layer.span.start + layer.span.length);
    }
    for (const [name, track] of Object.entries(tracksOf(layer)))
      for (const frame of keyFrames(layer, track)) if (!moving.has(`${layer.id}.${name}.${frame}`)) found.add(frame);
  }
  return [...found];
}

/** The step at which the nearest of some places meets a snap, within reach; the step itself where none does. */
export function snapped(by: number, places: number[], snaps: number[], reach: number): number {
  let best = reach;
  let out = by;
  for (const place of places)
    for (const snap of snaps) {
      const away = snap - (place + by);
      if (Math.abs(away) <= best) [best, out] = [Math.abs(away), by + away];
    }
  return out;
}

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
        if (next !== 0 && choices().magnet && !moved.ctrlKey && !moved.metaKey)
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
