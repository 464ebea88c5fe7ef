import type { Layer } from "../api/client";
import { factsOf } from "../document/properties";
import { keyFrames, poseFrames, SAME, tracksOf } from "../document/tracks";
import { useFacts } from "../session/useScene";
import { PebbleMark } from "./PebbleMark";
import { shows, useScale } from "./scale";

/** A mark in a row's own lane at each frame where something of it has a key; it stands for all of them, and has the
 * colour of the one that there is alone. */
export function PosePebbles({ layer }: { layer: Layer }) {
  const scale = useScale();
  const facts = useFacts();
  const tracks = Object.entries(tracksOf(layer));
  return poseFrames(layer)
    .filter((frame) => shows(scale, frame, frame))
    .map((frame) => {
      const refs = tracks
        .filter(([, track]) => keyFrames(layer, track).some((at) => Math.abs(at - frame) < SAME))
        .map(([property]) => ({ layer: layer.id!, property, frame }));
      return (
        <PebbleMark
          key={frame}
          frame={frame}
          tone={refs.length === 1 ? factsOf(layer, refs[0].property, facts).role : "ink"}
          small
          label={`Keys of ${layer.name} at frame ${frame}`}
          refs={refs}
        />
      );
    });
}
