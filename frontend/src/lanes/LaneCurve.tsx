import { useEffect, useRef, useState } from "react";
import type { Ease, Layer, Track } from "../api/client";
import { factsOf } from "../document/properties";
import { isPlain, keyFrames, tracksOf } from "../document/tracks";
import { type Bezier, useBezierDrag } from "../easing/curveHandles";
import { useEaseFacts } from "../easing/easeNames";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { useLanesView } from "../state/lanesView";
import { useSelection } from "../state/selection";
import { roleColour } from "../theme/theme";
import { fitted, type Samples, samplesOf } from "./curve";
import { type LaneScale, toFrame, toX, useScale } from "./scale";

interface Props {
  layer: Layer;
  name: string;
  track: Track;
  height: number;
  tone: string;
}

/** A property's value, or its speed, over time; in a tall lane the handles of its easings can be taken in place. */
export function LaneCurve({ layer, name, track, height, tone }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const facts = useFacts();
  const scale = useScale();
  const show = useLanesView((state) => state.lanesShow);
  const overlaid = useLanesView((state) => state.laneOverlay);
  const root = useRef<SVGSVGElement>(null);
  const [samples, setSamples] = useState<Samples | null>(null);
  const tall = height > 60;
  const colour = isPlain(track.rest);
  const { start, length } = layer.span;
  const range: [number, number] = [Math.max(start, 0), Math.min(start + length, scene.length)];
  const bare = Boolean(track.formula) && show === "value";
  const others =
    tall && overlaid
      ? Object.entries(tracksOf(layer)).filter(([other, one]) => other !== name && one.keys?.length)
      : [];

  useEffect(() => {
    if (show === "speed") session.needSpeeds();
  }, [session, show]);

  useEffect(() => {
    if (colour) return;
    let version = -1;
    const paint = () => {
      if (session.frames.version === version) return;
      version = session.frames.version;
      const found = samplesOf(session, layer.id!, name, range, show);
      const base = bare ? samplesOf(session, layer.id!, name, range, "base") : null;
      // A formula's curve lies over that of its base, on one measure.
      if (base) found.ranges = base.ranges = found.ranges.map((one, i) => around(one, base.ranges[i]));
      // Handles that reach beyond the values are still in the lane, where they can be taken back.
      else if (tall && show === "value" && !session.frames.trying)
        found.ranges = found.ranges.map((one, axis) => around(one, reachOf(track, axis)));
      draw(root.current!, "[data-own]", found, scale, height);
      if (base) draw(root.current!, "[data-base]", base, scale, height);
      for (const [other] of others) {
        const theirs = samplesOf(session, layer.id!, other, range, show);
        draw(root.current!, `[data-other="${other}"]`, theirs, scale, height);
      }
      if (tall && !session.frames.trying) setSamples((before) => (alike(before, found) ? before : found));
    };
    paint();
    return session.frames.subscribe(paint);
  });

  if (colour && typeof track.rest !== "string") return null;
  if (colour) return <Swatches layer={layer} track={track} height={height} />;
  return (
    <svg
      ref={root}
      width="100%"
      height={height}
      style={{ position: "absolute", inset: 0, overflow: "hidden" }}
      data-testid={`curve-${name}`}
      role="group"
      aria-label={`Curve of ${name}`}
    >
      {others.map(([other]) => (
        <g
          key={other}
          data-other={other}
          fill="none"
          stroke={roleColour(factsOf(layer, other, facts).role)}
          opacity="0.45"
        >
          <path />
          <path strokeDasharray="4 2" />
        </g>
      ))}
      {bare && (
        <g data-base="" data-testid="base-curve" fill="none" stroke={roleColour("quiet")} opacity="0.7">
          <path />
          <path strokeDasharray="4 2" />
        </g>
      )}
      <g data-own="" fill="none" stroke={roleColour(tone)} strokeWidth={tall ? 2 : 1.4}>
        <path />
        <path strokeDasharray="4 2" />
      </g>
      {tall && samples && show === "value" && (
        <Handles layer={layer} name={name} track={track} samples={samples} height={height} tone={tone} />
      )}
      {tall && samples && samples.axes.length > 1 && (
        <Ends samples={samples} height={height} parts={factsOf(layer, name, facts).parts} tone={tone} />
      )}
      {tall && samples && (
        <g style={{ fontSize: 11 }} fill={roleColour("quiet")}>
          {[1, 0].map((end) => (
            <text key={end} x="4" y={end ? 14 : height - 4}>
              {samples.ranges.map((range) => tidy(range[end])).join(" · ")}
              {show === "value" ? "" : " a second"}
            </text>
          ))}
        </g>
      )}
    </svg>
  );
}

/** How far the handles of a track's easings reach on one of its axes; undefined where it has none. */
function reachOf({ keys = [] }: Track, axis: number): [number, number] | undefined {
  const at = (value: unknown): number => (Array.isArray(value) ? value[axis] : (value as number));
  const ends = keys.slice(1).flatMap((next, i) => {
    const { ease } = keys[i];
    if (typeof ease !== "object" || !("bezier" in ease)) return [];
    const [from, to] = [at(keys[i].value), at(next.value)];
    return [ease.bezier[1], ease.bezier[3]].map((share) => from + share * (to - from));
  });
  return ends.length ? [Math.min(...ends), Math.max(...ends)] : undefined;
}

const around = (a: [number, number], b: [number, number] | undefined): [number, number] =>
  b ? [Math.min(a[0], b[0]), Math.max(a[1], b[1])] : a;

const tidy = (n: number) => (Number.isFinite(n) ? String(Math.round(n * 100) / 100) : "");

const alike = (a: Samples | null, b: Samples) => a !== null && JSON.stringify(a) === JSON.stringify(b);

function draw(root: SVGSVGElement, which: string, samples: Samples, scale: LaneScale, height: number) {
  const paths = root.querySelectorAll<SVGPathElement>(`${which} path`);
  const first = Math.max(Math.floor(toFrame(scale, 0)), samples.first);
  const last = Math.ceil(toFrame(scale, scale.width));
  const step = Math.max(Math.floor(0.7 / scale.frameWidth), 1);
  paths.forEach((path, axis) => {
    const values = samples.axes[axis] ?? [];
    const { place } = fitted(samples.ranges[axis] ?? [0, 0], height);
    let drawn = "";
    for (let i = first - samples.first; i < values.length && samples.first + i <= last; i += step) {
      const value = values[i];
      if (value === null) continue;
      drawn += `${drawn ? "L" : "M"}${toX(scale, samples.first + i + 0.5).toFixed(1)} ${place(value).toFixed(1)}`;
    }
    path.setAttribute("d", drawn);
  });
}

/** The colours of a keyed colour, each from its key on. */
function Swatches({ layer, track, height }: { layer: Layer; track: Track; height: number }) {
  const scale = useScale();
  const frames = keyFrames(layer, track);
  return (
    <svg width="100%" height={height} style={{ position: "absolute", inset: 0 }} aria-hidden>
      {(track.keys ?? []).map((key, i) => (
        <rect
          key={key.frame}
          x={toX(scale, frames[i] + 0.5)}
          y={height / 2 - 4}
          width={Math.max(((frames[i + 1] ?? frames[i]) - frames[i]) * scale.frameWidth, 4)}
          height="8"
          fill={String(key.value)}
          stroke={roleColour("edge")}
        />
      ))}
    </svg>
  );
}

interface HandleProps {
  layer: Layer;
  name: string;
  track: Track;
  samples: Samples;
  height: number;
  tone: string;
}

const MOST = 24;

/** The handles of every stretch that a bezier eases; where the value stands still there is nothing to draw. */
function Handles({ layer, name, track, samples, height, tone }: HandleProps) {
  const keys = track.keys ?? [];
  const facts = useEaseFacts(keys.map((key) => key.ease ?? "linear"));
  const chosen = useSelection((state) => state.keys);
  const frames = keyFrames(layer, track);
  const picked = chosen.filter((key) => key.layer === layer.id && key.property === name).map((key) => key.frame);
  return (
    <>
      {keys.slice(0, -1).map((key, i) => {
        if (picked.length ? !picked.includes(frames[i]) && !picked.includes(frames[i + 1]) : keys.length > MOST)
          return null;
        const ease = key.ease ?? "linear";
        const bezier = ease === "linear" ? [1 / 3, 1 / 3, 2 / 3, 2 / 3] : facts.get(JSON.stringify(ease))?.bezier;
        if (!bezier) return null;
        return (
          <Stretch
            key={frames[i]}
            layer={layer.id!}
            name={name}
            from={frames[i]}
            to={frames[i + 1]}
            bezier={bezier as Bezier}
            ease={ease}
            samples={samples}
            height={height}
            tone={tone}
          />
        );
      })}
    </>
  );
}

interface EndsProps {
  samples: Samples;
  height: number;
  parts: string[];
  tone: string;
}

/** Which curve is x and which is y, at their ends; where both end alike, one beside the other. */
function Ends({ samples, height, parts, tone }: EndsProps) {
  const scale = useScale();
  const ends = samples.axes.map((axis, i) => {
    const value = axis.at(-1);
    return value == null ? null : fitted(samples.ranges[i], height).place(value);
  });
  const near = ends.every((y) => y !== null && Math.abs(y - ends[0]!) < 11);
  const right = toX(scale, samples.first + samples.axes[0].length) + 4;
  const x = Math.min(right, scale.width - 11 * (near ? ends.length : 1));
  return (
    <g style={{ fontSize: 11, fontWeight: 600 }} fill={roleColour(tone)} data-testid="curve-ends">
      {ends.map(
        (y, i) =>
          y !== null && (
            <text key={parts[i]} x={x + (near ? 11 * i : 0)} y={Math.min(Math.max(y + 4, 12), height - 4)}>
              {parts[i]}
            </text>
          ),
      )}
    </g>
  );
}

interface StretchProps {
  layer: string;
  name: string;
  from: number;
  to: number;
  bezier: Bezier;
  ease: Ease;
  samples: Samples;
  height: number;
  tone: string;
}

function Stretch({ layer, name, from, to, bezier, samples, height, tone }: StretchProps) {
  const session = useSession();
  const scale = useScale();
  const at = (axis: (number | null)[], frame: number) => axis[Math.round(frame) - samples.first] ?? null;
  // The axis that goes furthest is the one whose handles are drawn; both are eased alike.
  const way = (values: (number | null)[]) => Math.abs((at(values, to) ?? 0) - (at(values, from) ?? 0));
  const furthest = samples.axes.reduce((best, axis, i) => (way(axis) > way(samples.axes[best]) ? i : best), 0);
  const axis = samples.axes[furthest];
  const { per, place } = fitted(samples.ranges[furthest] ?? [0, 0], height);
  const [low, high] = [at(axis ?? [], from), at(axis ?? [], to)];
  const change = (high ?? 0) - (low ?? 0);
  const frames = to - from;
  const keys = [{ layer, property: name, frame: from }];
  const drag = useBezierDrag(bezier, {
    perX: frames * scale.frameWidth,
    perY: per * change || 1,
    goals: (which, x) => {
      const edge = which === 0 ? from : to;
      const [a, b] = which === 0 ? [at(axis, edge - 1), at(axis, edge)] : [at(axis, edge), at(axis, edge + 1)];
      if (a === null || b === null || !change) return [];
      const slope = ((b - a) * frames) / change;
      return [which === 0 ? slope * x : 1 - slope * (1 - x)];
    },
    attempt: (next) => session.try([{ edit: "set_easing", keys, ease: { bezier: next } }]),
    keep: (next, run) => session.keep(run, { edit: "set_easing", keys, ease: { bezier: next } }),
  });
  if (low === null || high === null || Math.abs(change * per) < 2 || !drag.shown) return null;
  const point = (x: number, y: number): [number, number] => [
    toX(scale, from + 0.5 + x * frames),
    place(low + y * change),
  ];
  return (
    <>
      {([0, 1] as const).map((which) => {
        const root = point(which, which);
        const tip = point(drag.shown![2 * which], drag.shown![2 * which + 1]);
        return (
          <g key={which}>
            <path d={`M${root}L${tip}`} stroke={roleColour("quiet")} strokeWidth="1" />
            <circle
              cx={tip[0]}
              cy={tip[1]}
              r="4.5"
              data-testid="lane-handle"
              data-frame={from}
              tabIndex={0}
              role="slider"
              aria-label={`${which ? "Arriving" : "Leaving"} handle of ${name} from frame ${from}`}
              aria-valuenow={drag.shown![2 * which + 1]}
              aria-valuetext={`${drag.shown![2 * which]}, ${drag.shown![2 * which + 1]}`}
              fill={roleColour("well")}
              stroke={roleColour(tone)}
              strokeWidth="1.8"
              cursor="grab"
              onPointerDown={(event) => drag.start(event, which)}
              onKeyDown={(event) => drag.nudge(event, which)}
            />
          </g>
        );
      })}
    </>
  );
}
