import { useMemo, useRef } from "react";
import type { KeyRef, Layer } from "../api/client";
import { factsOf } from "../document/properties";
import { keyFrames, SAME, tracksOf } from "../document/tracks";
import { useFacts } from "../session/useScene";
import { PebbleMark } from "./PebbleMark";
import { shows, useScale } from "./scale";

/** A mark in a row's own lane at each frame where something of it has a key; it stands for all of them, and has the
 * colour of the one that there is alone. */
export function PosePebbles({ layer }: { layer: Layer }) {
  const scale = useScale();
  const facts = useFacts();
  const moments = useMoments(layer);
  return moments
    .filter(([{ frame }]) => shows(scale, frame, frame))
    .map((refs) => (
      <PebbleMark
        key={refs[0].frame}
        frame={refs[0].frame}
        tone={refs.length === 1 ? factsOf(layer, refs[0].property, facts).role : "ink"}
        small
        label={`Keys of ${layer.name} at frame ${refs[0].frame}`}
        refs={refs}
      />
    ));
}

/** The keys of a layer by moments, in order of time; those that stay as they were are the same lists as before. */
function useMoments(layer: Layer): KeyRef[][] {
  const before = useRef(new Map<string, KeyRef[]>());
  return useMemo(() => {
    const found = new Map<number, { frame: number; properties: string[] }>();
    for (const [property, track] of Object.entries(tracksOf(layer)))
      for (const frame of keyFrames(layer, track)) {
        const place = Math.round(frame / SAME);
        const known = found.get(place);
        if (known) known.properties.push(property);
        else found.set(place, { frame, properties: [property] });
      }
    const now = new Map<string, KeyRef[]>();
    const moments = [...found.values()].sort((a, b) => a.frame - b.frame);
    for (const { frame, properties } of moments) {
      const name = `${layer.id} ${frame} ${properties}`;
      const refs = properties.map((property) => ({ layer: layer.id!, property, frame }));
      now.set(name, before.current.get(name) ?? refs);
    }
    before.current = now;
    return [...now.values()];
  }, [layer]);
}
