import { memo } from "react";
import type { Scene } from "../api/client";
import { fps, timecode } from "../scene/document";
import { roleColour } from "../theme/theme";

const STEPS = [1, 2, 5, 10, 30, 60, 120, 300, 600];

/** Ticks in seconds:frames, as close as there is room, and the beats. */
export const Ruler = memo(({ scene, frameWidth }: { scene: Scene; frameWidth: number }) => {
  const second = Math.max(Math.round(fps(scene)), 1);
  const step = STEPS.map((n) => n * second).find((n) => n * frameWidth > 64) ?? second * 600;
  const fine = [1, 5, 10].map((n) => Math.min(n, second)).find((n) => n * frameWidth > 5) ?? step;
  const marks = [];
  for (let frame = 0; frame <= scene.length; frame += Math.max(Math.round(fine), 1)) {
    const x = 10 + frame * frameWidth;
    if (frame % step !== 0) marks.push(<path key={frame} d={`M${x} 19v6`} stroke={roleColour("edge")} />);
  }
  for (let frame = 0; frame <= scene.length; frame += step) {
    const x = 10 + frame * frameWidth;
    marks.push(
      <g key={`l${frame}`}>
        <path d={`M${x} 13v12`} stroke={roleColour("quiet")} />
        <text x={x + 4} y="13" style={{ fontSize: 11 }} fill={roleColour("quiet")}>
          {timecode(frame, scene)}
        </text>
      </g>,
    );
  }
  return (
    <svg width="100%" height="25" style={{ display: "block" }} aria-hidden>
      {marks}
      {(scene.beats ?? []).map((beat) => (
        <path key={beat.frame} d={`M${10 + beat.frame * frameWidth} 2l4 5h-8z`} fill={roleColour("act")}>
          <title>{beat.label}</title>
        </path>
      ))}
    </svg>
  );
});
