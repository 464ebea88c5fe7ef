import type { Point, View } from "../geometry/layerGeometry";
import { roleColour } from "../theme/theme";
import { RULER } from "./hands/guide";

const STEPS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000];

/** SceneRulers in scene pixels along the top and the left; guides are drawn out of them. */
export function SceneRulers({ view, room }: { view: View; room: Point }) {
  const step = STEPS.find((n) => n * view.scale > 56) ?? 10_000;
  const ticks = (axis: 0 | 1) => {
    const from = axis === 0 ? view.x : view.y;
    const marks = [];
    for (let n = Math.ceil((RULER - from) / view.scale / step) * step; n * view.scale + from < room[axis]; n += step)
      marks.push([n, n * view.scale + from]);
    return marks;
  };
  return (
    <svg
      width="100%"
      height="100%"
      data-testid="rulers"
      style={{ position: "absolute", inset: 0, pointerEvents: "none" }}
      aria-hidden
    >
      <path d={`M0 0H${room[0]}V${RULER}H${RULER}V${room[1]}H0Z`} fill={roleColour("panel")} />
      <path d={`M${RULER} ${room[1]}V${RULER}H${room[0]}`} fill="none" stroke={roleColour("edge")} />
      {ticks(0).map(([n, x]) => (
        <g key={`x${n}`}>
          <path d={`M${x} 11V${RULER}`} stroke={roleColour("quiet")} />
          <text x={x + 3} y="11" style={{ fontSize: 11 }} fill={roleColour("quiet")}>
            {n}
          </text>
        </g>
      ))}
      {ticks(1).map(([n, y]) => (
        <g key={`y${n}`}>
          <path d={`M11 ${y}H${RULER}`} stroke={roleColour("quiet")} />
          <text style={{ fontSize: 11 }} fill={roleColour("quiet")} transform={`translate(10 ${y - 3}) rotate(-90)`}>
            {n}
          </text>
        </g>
      ))}
    </svg>
  );
}
