import type { Facts, KeyRef, Layer } from "../api/client";
import { labelOf } from "../document/properties";
import { isPlain, keyFrames, tracksOf } from "../document/tracks";

/** All keys of the selected layers at one moment. */
export interface Pose {
  frame: number;
  keys: KeyRef[];
  /** What it sets, in a few words. */
  words: string;
}

const inWords = (layer: Layer, name: string, value: unknown, facts: Facts): string => {
  const label = labelOf(layer, name, facts).toLowerCase();
  if (isPlain(value)) return label;
  const numbers = (Array.isArray(value) ? value : [value]).map((n) => Math.round((n as number) * 10) / 10);
  if (name === "anchor") return `anchor ${numbers.map((n) => n * 100).join(" ")}`;
  const same = numbers.length === 2 && numbers[0] === numbers[1];
  return `${label} ${same ? numbers[0] : numbers.join(", ")}`;
};

/** The poses of layers, in order of time. */
export function posesOf(layers: Layer[], facts: Facts): Pose[] {
  const found = new Map<number, Pose & { parts: string[] }>();
  for (const layer of layers)
    for (const [name, track] of Object.entries(tracksOf(layer)))
      keyFrames(layer, track).forEach((frame, i) => {
        const pose = found.get(frame) ?? { frame, keys: [], words: "", parts: [] };
        pose.keys.push({ layer: layer.id!, property: name, frame });
        const before = track.keys![i - 1];
        const still = before && JSON.stringify(before.value) === JSON.stringify(track.keys![i].value);
        if (!still) pose.parts.push(inWords(layer, name, track.keys![i].value, facts));
        found.set(frame, pose);
      });
  return [...found.values()]
    .sort((a, b) => a.frame - b.frame)
    .map(({ frame, keys, parts }) => ({ frame, keys, words: [...new Set(parts)].join(" · ") || "as before" }));
}
