import { keyFrames, tracksOf } from "../document/tracks";
import type { Session } from "../session/session";

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
