import { roleColour } from "../theme/theme";

interface Props {
  curve: number[] | undefined;
  width: number;
  height: number;
  tone?: string;
  plain?: boolean;
}

/** An easing's curve, time to the right, the way upwards. */
export function EaseCurve({ curve, width, height, tone = "act", plain }: Props) {
  const path =
    curve?.map((y, i) => `${i ? "L" : "M"}${(i / (curve.length - 1)).toFixed(4)} ${y.toFixed(4)}`).join("") ?? "";
  const low = Math.min(-0.35, ...(curve ?? []).map((y) => y - 0.05));
  const high = Math.max(1.35, ...(curve ?? []).map((y) => y + 0.05));
  return (
    <svg
      width={width}
      height={height}
      viewBox={`-0.08 ${1 - high} 1.16 ${high - low}`}
      preserveAspectRatio="none"
      aria-hidden
      style={
        plain
          ? { display: "block" }
          : {
              background: roleColour("panel"),
              borderRadius: 8,
              border: `1px solid ${roleColour("edge")}`,
              flex: "none",
            }
      }
    >
      <g transform="translate(0 1) scale(1 -1)" fill="none">
        {!plain && (
          <path d="M0 0H1M0 1H1" stroke={roleColour("edge")} strokeWidth="1" vectorEffect="non-scaling-stroke" />
        )}
        <path d={path} stroke={roleColour(tone)} strokeWidth="2" vectorEffect="non-scaling-stroke" />
      </g>
    </svg>
  );
}
