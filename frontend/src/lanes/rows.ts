import type { Layer, Track } from "../api/client";
import { tracksOf } from "../studio/tracks";

export const ROW = 27;
export const LANE = 27;
export const TALL = 132;

type Mode = "keyed" | "all" | "changed";

const REST: Record<string, string> = {
  scale: "100,100",
  rotation: "0",
  opacity: "100",
  anchor: "0.5,0.5",
};

/** Whether a property was changed: keyed, or at rest elsewhere than a new layer's. */
const changed = (name: string, track: Track) =>
  (track.keys?.length ?? 0) > 0 || (name in REST ? String(track.rest) !== REST[name] : name.startsWith("position"));

/** The property lanes that an opened layer shows. */
export function lanesOf(layer: Layer, mode: Mode): [string, Track][] {
  const single = layer.content.kind === "shape" && layer.content.items.length === 1;
  return Object.entries(tracksOf(layer)).filter(([name, track]) => {
    if (mode === "keyed") return (track.keys?.length ?? 0) > 0;
    if (mode === "changed") return changed(name, track);
    return !(single && name.endsWith(".at"));
  });
}

/** The height of a lane. */
export const laneHeight = (tall: Record<string, boolean>, layer: string, name: string) =>
  tall[`${layer}.${name}`] ? TALL : LANE;

/** The height of a layer's row with the lanes that are opened under it. */
export function heightOf(
  layer: Layer,
  opened: Record<string, boolean>,
  mode: Mode,
  tall: Record<string, boolean>,
): number {
  if (!opened[layer.id!]) return ROW;
  return lanesOf(layer, mode).reduce((all, [name]) => all + laneHeight(tall, layer.id!, name), ROW);
}
