import { useEffect, useRef } from "react";
import { choices } from "../scene/choices";
import { keyFrames, tracksOf } from "../scene/document";
import type { Session } from "../scene/session";
import { useScale } from "./scale";

/** A horizontal drag in frames: told with every change, kept or given back at its end. Esc gives back. */
export interface FrameDrag {
  move(by: number): void;
  end(by: number): void;
  cancel(): void;
}

const NEAR = 6;

/** What frames are drawn to: the playhead, beats, span ends, and keys, but for those that move. */
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
  const active = useRef<{ x: number; by: number; drag: FrameDrag; places: number[]; snaps: number[] } | null>(null);
  const width = useRef(frameWidth);
  width.current = frameWidth;

  useEffect(() => {
    const move = (event: PointerEvent) => {
      const now = active.current;
      if (!now) return;
      let by = Math.round((event.clientX - now.x) / width.current);
      if (by !== 0 && choices().magnet && !event.ctrlKey && !event.metaKey)
        by = Math.round(snapped(by, now.places, now.snaps, Math.min(NEAR / width.current, 3)));
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
      if (event && active.current) event.stopImmediatePropagation();
      active.current?.drag.cancel();
      active.current = null;
    };
    const lost = () => give();
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", lost);
    window.addEventListener("keydown", give, true);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", lost);
      window.removeEventListener("keydown", give, true);
    };
  }, []);

  return (event: React.PointerEvent, drag: FrameDrag, places: number[] = [], snaps: number[] = []) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    active.current = { x: event.clientX, by: 0, drag, places, snaps };
  };
}
