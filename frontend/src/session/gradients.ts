import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { hasWords } from "../document/contents";
import { isBare, isMask, itemsOf, type ShapeItem } from "../document/items";
import { type Point, throughMatrix } from "../geometry/layerGeometry";
import { type Paint, selection } from "../state/selection";
import type { Session } from "./session";

type Fill = NonNullable<ShapeItem["fill"]>;
export type Gradient = Extract<Fill, { gradient: string }>;

/** A handle of a gradient: what it aims, where it is in the scene, and of a stop its number. */
export interface Handle {
  part: "start" | "end" | "centre" | "radius x" | "radius y" | "angle" | "stop";
  stop: number;
  at: Point;
}

/** How far from the centre the handle of the angle stands, as a share of the radius. */
const TURNS = 1.4;

const PAINTS: Record<Paint, string> = { fill: "fill", stroke: "stroke.colour" };

/** Where a paint of a single shape or of a text stands among the layer's properties. */
export const pathOfPaint = (layer: Layer, paint: Paint) =>
  `content.${hasWords(layer.content) ? "" : "items.0."}${PAINTS[paint]}`;

/** Which paint of a text, or of a layer that is a single shape and no mask, a property is. */
export const paintAt = (layer: Layer, name: string): Paint | undefined =>
  hasWords(layer.content) || (isBare(layer) && !isMask(layer.id!))
    ? (["fill", "stroke"] as const).find((paint) => pathOfPaint(layer, paint) === name)
    : undefined;

/** What a text, or a layer that is a single shape, is filled or stroked with. */
export function paintOf(layer: Layer | undefined, paint: Paint): Fill | null | undefined {
  if (!layer || !(hasWords(layer.content) || isBare(layer))) return undefined;
  const one = (hasWords(layer.content) ? layer.content : itemsOf(layer)[0]) as Pick<ShapeItem, "fill" | "stroke">;
  return paint === "fill" ? one.fill : one.stroke?.colour;
}

/** The gradient that a layer is painted with; undefined where it is none. */
export function gradientOf(layer: Layer | undefined, paint: Paint): Gradient | undefined {
  const found = paintOf(layer, paint);
  return found && "gradient" in found ? (found as Gradient) : undefined;
}

/** The gradient whose handles are on the stage, and its layer. */
export function gradientShown(session: Session): { layer: string; paint: Paint; gradient: Gradient } | null {
  const { gradient: paint, selected } = selection();
  if (!paint || selected.length !== 1) return null;
  const gradient = gradientOf(session.layer(selected[0]), paint);
  return gradient ? { layer: selected[0], paint, gradient } : null;
}

/** The handles of a gradient in the scene at the playhead, the ends first; and the line that they lie on. */
export function handlesOf(session: Session, layer: string, paint: Paint, gradient: Gradient) {
  const { frames } = session;
  const arrays = frames.layer(layer);
  const known = session.layer(layer);
  if (!arrays || !known) return { handles: [] as Handle[], line: [] as Point[] };
  const path = pathOfPaint(known, paint);
  const numbers = (name: string) => row(arrays, arrays.values[`${path}.${name}`], frames.frame);
  const [left, top, width, height] = row(arrays, arrays.box, frames.frame);
  const place = ([x, y]: Point): Point => throughMatrix(arrays, frames.frame, [x, y]);
  const inBox = (name: string): Point => {
    const [x, y] = numbers(name);
    return [left + (x / 100) * width, top + (y / 100) * height];
  };
  const stops = gradient.stops.map((_, i) => numbers(`stops.${i}.at`)[0] / 100);
  const handles: Handle[] = [];
  const line: Point[] = [];
  const add = (part: Handle["part"], at: Point, stop = 0) => handles.push({ part, stop, at: place(at) });
  if (gradient.gradient === "linear") {
    const [a, b] = [inBox("start"), inBox("end")];
    add("start", a);
    add("end", b);
    stops.forEach((share, i) => {
      add("stop", [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share], i);
    });
    line.push(place(a), place(b));
  } else {
    const centre = inBox("centre");
    const turn = (numbers("angle")[0] * Math.PI) / 180;
    const [rx, ry] = numbers("radius");
    const radial = gradient.gradient === "radial";
    // A conic gradient has no radius: its handles stand a third of its box away.
    const far = Math.min(width, height) / 3;
    const [along, across] = radial ? [(rx / 100) * width, (ry / 100) * height] : [far, far];
    const at = (x: number, y: number): Point => [
      centre[0] + Math.cos(turn) * x - Math.sin(turn) * y,
      centre[1] + Math.sin(turn) * x + Math.cos(turn) * y,
    ];
    add("centre", centre);
    if (radial) {
      add("angle", at(along * TURNS, 0));
      line.push(place(at(along * TURNS, 0)), place(centre));
      add("radius x", at(along, 0));
      add("radius y", at(0, across));
      stops.forEach((share, i) => {
        add("stop", at(along * share, 0), i);
      });
    } else {
      add("angle", at(far * TURNS, 0));
      stops.forEach((share, i) => {
        const angle = 2 * Math.PI * share;
        add("stop", at(far * Math.cos(angle), far * Math.sin(angle)), i);
      });
      line.push(place(centre), place(at(far * TURNS, 0)));
    }
    for (let step = 0; step <= 48; step++) {
      const angle = (2 * Math.PI * step) / 48;
      line.push(place(at(along * Math.cos(angle), across * Math.sin(angle))));
    }
  }
  return { handles, line };
}

/** The colour of a stop at the playhead, as CSS writes it. */
export function stopColour(session: Session, layer: string, paint: Paint, stop: number): string {
  const arrays = session.frames.layer(layer);
  const known = session.layer(layer);
  const column = known && arrays?.values[`${pathOfPaint(known, paint)}.stops.${stop}.colour`];
  if (!arrays || column === undefined) return "transparent";
  const [r, g, b, a] = row(arrays, column, session.frames.frame);
  return `rgb(${r} ${g} ${b} / ${a / 255})`;
}
