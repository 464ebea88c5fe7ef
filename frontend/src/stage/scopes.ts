import type { Layer } from "../api/client";
import type { Scope } from "../scene/choices";
import { tracksOf } from "../scene/document";

/** When the picture stays put on a layer in motion: value, short words, and what it means. */
export const SCOPES: [Scope, string, string][] = [
  ["frame", "this frame", "The picture stays put at this frame; the whole path is shifted"],
  ["every key", "every key", "The picture stays put at every key of the position"],
  ["throughout", "throughout", "The picture stays put at every frame"],
];

/** Whether the layer's position is keyed, so that it matters when the picture stays put. */
export const inMotion = (layer: Layer) =>
  Object.entries(tracksOf(layer)).some(([name, track]) => name.startsWith("position") && track.keys?.length);
