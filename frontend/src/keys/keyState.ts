import type { Layer, Track } from "../api/client";
import { keyFrames } from "../document/tracks";

export type KeyState = "still" | "here" | "between";

/** Whether a property is not keyed, has a key at the frame, or is keyed elsewhere (a change will make a key). */
export function keyState(layer: Layer, track: Track, frame: number): KeyState {
  const frames = keyFrames(layer, track);
  if (!frames.length) return "still";
  return frames.some((key) => Math.abs(key - frame) < 1e-6) ? "here" : "between";
}
