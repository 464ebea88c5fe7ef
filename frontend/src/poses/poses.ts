import type { Facts, KeyRef, Layer } from "../api/client";
import { labelOf } from "../document/properties";
import { keyFrames, tracksOf } from "../document/tracks";
import { wordsOf } from "./poseWords";

/** All keys of the selected layers at one moment. */
export interface Pose {
  frame: number;
  keys: KeyRef[];
  /** What changes there, in a few words; of several layers each by its name. */
  words: string;
}

/** The poses of layers, in order of time. */
export function posesOf(layers: Layer[], facts: Facts): Pose[] {
  const found = new Map<number, { keys: KeyRef[]; parts: Map<string, string[]> }>();
  for (const layer of layers)
    for (const [name, track] of Object.entries(tracksOf(layer)))
      keyFrames(layer, track).forEach((frame, i) => {
        const pose = found.get(frame) ?? { keys: [], parts: new Map<string, string[]>() };
        pose.keys.push({ layer: layer.id!, property: name, frame });
        const parts = pose.parts.get(layer.name!) ?? [];
        const before = track.keys![i - 1]?.value;
        const { value } = track.keys![i];
        if (JSON.stringify(before) !== JSON.stringify(value))
          parts.push(wordsOf(name, labelOf(layer, name, facts), before, value));
        pose.parts.set(layer.name!, parts);
        found.set(frame, pose);
      });
  return [...found.entries()]
    .sort(([a], [b]) => a - b)
    .map(([frame, { keys, parts }]) => ({ frame, keys, words: together(parts, layers.length > 1) }));
}

function together(parts: Map<string, string[]>, several: boolean): string {
  const told = [...parts].map(([name, words]) => {
    const what = [...new Set(words)].join(" · ") || "as before";
    return several ? `${name}: ${what}` : what;
  });
  return told.join(" · ");
}
