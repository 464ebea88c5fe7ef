import type { Scope } from "./tools";

/** When the picture stays put on a layer in motion: value, short words, and what it means. */
export const SCOPES: [Scope, string, string][] = [
  ["frame", "this frame", "The picture stays put at this frame; the whole path is shifted"],
  ["every key", "every key", "The picture stays put at every key of position, scale, rotation and anchor"],
  ["throughout", "throughout", "The picture stays put at every frame"],
];
