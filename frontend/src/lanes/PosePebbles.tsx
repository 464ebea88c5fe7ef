import type { Layer } from "../api/client";
import { keyFrames, poseFrames, SAME, tracksOf } from "../document/tracks";
import { PebbleMark } from "./PebbleMark";
import { shows, useScale } from "./scale";

/** A mark in a row's own lane at each frame where something of it has a key; it stands for all of them. */
export function PosePebbles({ layer }: { layer: Layer }) {
  const scale = useScale();
  const tracks = Object.entries(tracksOf(layer));
  return poseFrames(layer)
    .filter((frame) => shows(scale, frame, frame))
    .map((frame) => (
      <PebbleMark
        key={frame}
        frame={frame}
        tone="ink"
        small
        label={`Keys of ${layer.name} at frame ${frame}`}
        refs={tracks
          .filter(([, track]) => keyFrames(layer, track).some((at) => Math.abs(at - frame) < SAME))
          .map(([property]) => ({ layer: layer.id!, property, frame }))}
      />
    ));
}
