import { handlesAt, pathKeys } from "../acts/motionPath";
import type { Layer } from "../api/client";
import { insideOf, within } from "../document/items";
import {
  anchorAt,
  boxHolds,
  commonBox,
  cornersOf,
  distance,
  fromPolygon,
  isThere,
  type Point,
  STATIONS,
  toScene,
  toScreen,
  type View,
} from "../geometry/layerGeometry";
import { kindOf } from "../kinds/layers";
import { neighbours, type PathItem, pathIn, pathPoints } from "../session/drawnPath";
import { gradientShown, type Handle, handlesOf as handlesOfGradient } from "../session/gradients";
import type { Session } from "../session/session";
import { type Paint, selection } from "../state/selection";
import { viewSettings } from "../state/viewSettings";
import { unitMarks } from "./cascadeMarks";
import { effectMarks } from "./effectMarks";
import { lit } from "./hands/gesture";

/** What lies under the pointer. */
export type Hit =
  | { kind: "anchor" }
  | { kind: "handle"; name: string }
  | { kind: "ring" }
  | { kind: "key"; layer: string; frame: number; point: Point; position: Point }
  | { kind: "tangent"; layer: string; frame: number; side: "leave" | "arrive"; key: Point; other: Point | null }
  | { kind: "point"; layer: string; point: number }
  | { kind: "bend"; layer: string; point: number; side: "in" | "out" }
  | { kind: "outline"; layer: string }
  | { kind: "gradient"; layer: string; paint: Paint; part: Handle["part"]; stop: number }
  | { kind: "unit anchor"; layer: string; unit: number }
  | { kind: "effect point"; layer: string; path: string }
  | { kind: "guide"; axis: "x" | "y"; place: number }
  | { kind: "layer"; ids: string[] }
  | { kind: "nothing" };

const GRIP = 14;
/** How near to a handle a press takes it, in pixels. */
export const HANDLE = 8;
const RING: [number, number] = [7, 24];

/** Corners of what the handles stand on, in stage pixels: the layer's own box, or the common box of several. */
export function handleBox(session: Session, ids: string[], view: View): Point[] | null {
  const { frames } = session;
  const arrays = ids.map((id) => frames.layer(id)).filter((one) => one !== undefined);
  if (!arrays.length || arrays.length !== ids.length) return null;
  if (arrays.length === 1) return cornersOf(arrays[0], frames.frame).map((at) => toScreen(view, at));
  const [left, top, right, bottom] = commonBox(arrays, frames.frame);
  const corners: Point[] = [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
  return corners.map((at) => toScreen(view, at));
}

/** The handles of a box in stage pixels; those in the middle of an edge only where there is room for them. */
export function handlesOf([a, b, c, d]: Point[]): [string, Point][] {
  const wide = distance(a, b);
  const tall = distance(a, d);
  const at = ([fx, fy]: Point): Point => [
    a[0] + fx * (b[0] - a[0]) + fy * (d[0] - a[0]) + fx * fy * (c[0] - b[0] - d[0] + a[0]),
    a[1] + fx * (b[1] - a[1]) + fy * (d[1] - a[1]) + fx * fy * (c[1] - b[1] - d[1] + a[1]),
  ];
  return Object.entries(STATIONS)
    .filter(([name, [x, y]]) => name !== "centre" && (x !== 0.5 || wide > 44) && (y !== 0.5 || tall > 44))
    .map(([name, share]) => [name, at(share)]);
}

/** The layers of the selection that can be changed by hand. */
export const handled = (session: Session): Layer[] =>
  selection()
    .selected.map((id) => session.layer(id))
    .filter((layer) => layer !== undefined)
    .filter((layer) => !layer.locked);

/**
 * The layers whose box holds a point of the stage, front first. While a shape within a layer is selected they are the
 * shapes beside it; where none of them is, layers as ever.
 */
export function layersAt(session: Session, view: View, point: Point): string[] {
  const parent = session.layer(insideOf(selection().selected));
  const inside = parent ? holding(session, view, point, within(parent)) : [];
  return inside.length ? inside : holding(session, view, point, [...session.frames.order].reverse());
}

/** Those of some layers or shapes whose box holds a point of the stage. */
export function holding(session: Session, view: View, point: Point, ids: string[]): string[] {
  const here = toScene(view, point);
  const { frames } = session;
  return ids.filter((id) => {
    const arrays = frames.layer(id);
    const layer = session.layer(id);
    if (!arrays || layer?.locked) return false;
    if (layer && kindOf(layer).throughout) return false;
    if (layer && kindOf(layer).markOnly)
      return isThere(arrays, frames.frame) && distance(toScreen(view, anchorAt(arrays, frames.frame)), point) <= HANDLE;
    return boxHolds(arrays, frames.frame, here);
  });
}

/** The selected layers that are locked and hold a point of the stage. */
export function lockedAt(session: Session, view: View, point: Point): string[] {
  const { frames } = session;
  return selection().selected.filter((id) => {
    const arrays = frames.layer(id);
    return arrays && session.layer(id)?.locked && boxHolds(arrays, frames.frame, toScene(view, point));
  });
}

/** Whether a box is so small on the screen that the anchor's mark covers it. */
const isSmall = (corners: Point[]) =>
  Math.max(distance(corners[0], corners[1]), distance(corners[0], corners[3])) < 2 * GRIP + 12;

/** The anchor of a unit of the cascade that is worked on. */
function unitHit(session: Session, view: View, point: Point): Hit | null {
  const { selected } = selection();
  if (selected.length !== 1 || session.layer(selected[0])?.locked) return null;
  const near = unitMarks(session, view).find(({ anchor }) => distance(anchor, point) <= HANDLE);
  return near ? { kind: "unit anchor", layer: selected[0], unit: near.index } : null;
}

/** A point of the effect that is worked on. */
function effectHit(session: Session, view: View, point: Point): Hit | null {
  const near = effectMarks(session, view).find(({ at }) => distance(at, point) <= HANDLE);
  if (!near || session.layer(near.layer)?.locked) return null;
  return { kind: "effect point", layer: near.layer, path: near.path };
}

/** What a press at a point of the stage would take, the nearest to the hand first. */
export function hitAt(session: Session, view: View, point: Point): Hit {
  const { frames } = session;
  const points = pointHit(session, view, point) ?? gradientHit(session, view, point);
  if (points) return points;
  const unit = unitHit(session, view, point) ?? effectHit(session, view, point);
  if (unit) return unit;
  const free = selection().points || selection().gradient ? [] : handled(session);
  const { mark, path } = viewSettings();
  const one = free.length === 1 && selection().selected.length === 1 ? free[0] : null;
  const arrays = one ? frames.layer(one.id!) : undefined;
  const box =
    free.length && free.length === selection().selected.length
      ? handleBox(
          session,
          free.map((l) => l.id!),
          view,
        )
      : null;
  const small = box !== null && isSmall(box);
  const overMark = () =>
    one && arrays && mark && distance(toScreen(view, anchorAt(arrays, frames.frame)), point) <= GRIP;
  // The mark of a small layer covers all of it: there its handles and its body come first.
  if (!small && overMark()) return { kind: "anchor" };
  if (box) {
    const near = handlesOf(box).find(([, at]) => distance(at, point) <= (small ? HANDLE / 2 : HANDLE));
    if (near) return { kind: "handle", name: near[0] };
  }
  if (small && box && fromPolygon(point, box) <= 0) return { kind: "layer", ids: layersAt(session, view, point) };
  if (small && overMark()) return { kind: "anchor" };
  if (one && path) {
    const on = pathHit(session, one, view, point);
    if (on) return on;
  }
  const guide = guideAt(view, point);
  if (guide) return guide;
  if (box) {
    const far = fromPolygon(point, box);
    if (far > RING[0] && far <= RING[1]) return { kind: "ring" };
  }
  const ids = layersAt(session, view, point);
  return ids.length ? { kind: "layer", ids } : { kind: "nothing" };
}

/** The part of an edited path under the pointer: a handle, a point, or its outline. */
function pointHit(session: Session, view: View, place: Point): Hit | null {
  const { points: chosen, selected } = selection();
  const [layer] = selected;
  const path = chosen && pathIn(session.layer(layer));
  if (!chosen || !path || session.layer(layer)?.locked) return null;
  const points = pathPoints(session, layer);
  const near = (at: Point) => distance(toScreen(view, at), place) <= HANDLE;
  for (const point of shownHandles(path, chosen)) {
    for (const side of ["out", "in"] as const) {
      const one = points[point];
      if (one && distance(one[side], one.at) > 0 && near(one[side])) return { kind: "bend", layer, point, side };
    }
  }
  const point = points.findLastIndex(({ at }) => near(at));
  if (point >= 0) return { kind: "point", layer, point };
  const steps = 24;
  for (let from = 0; from < points.length; from++) {
    const [, to] = neighbours(path, from);
    if (to === from) continue;
    const curve = [points[from].at, points[from].out, points[to].in, points[to].at].map((at) => toScreen(view, at));
    for (let step = 0; step < steps; step++) {
      if (fromLine(place, along(curve, step / steps), along(curve, (step + 1) / steps)) <= 5)
        return { kind: "outline", layer };
    }
  }
  return null;
}

/** The handle of the gradient that is aimed on the stage. */
function gradientHit(session: Session, view: View, place: Point): Hit | null {
  const shown = gradientShown(session);
  if (!shown || session.layer(shown.layer)?.locked) return null;
  const { layer, paint, gradient } = shown;
  const { handles } = handlesOfGradient(session, layer, paint, gradient);
  const near = handles.filter(({ at }) => distance(toScreen(view, at), place) <= HANDLE);
  // The first and the last stop of a linear gradient lie on its ends: those are taken.
  const one = near.find(({ part }) => part !== "stop") ?? near.at(-1);
  return one ? { kind: "gradient", layer, paint, part: one.part, stop: one.stop } : null;
}

/** The points whose handles are shown: those selected, and their neighbours. */
export const shownHandles = (path: PathItem, chosen: number[]) =>
  new Set(chosen.flatMap((point) => [point, ...neighbours(path, point)]));

const along = ([a, b, c, d]: Point[], t: number): Point => {
  const mix = (i: 0 | 1) =>
    (1 - t) ** 3 * a[i] + 3 * (1 - t) ** 2 * t * b[i] + 3 * (1 - t) * t * t * c[i] + t ** 3 * d[i];
  return [mix(0), mix(1)];
};

const fromLine = ([px, py]: Point, [ax, ay]: Point, [bx, by]: Point) => {
  const size = (bx - ax) ** 2 + (by - ay) ** 2;
  const t = size ? Math.min(Math.max(((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / size, 0), 1) : 0;
  return Math.hypot(px - ax - t * (bx - ax), py - ay - t * (by - ay));
};

function pathHit(session: Session, layer: Layer, view: View, point: Point): Hit | null {
  const keys = pathKeys(session, layer, viewSettings().follow);
  const chosen = selection().pathKey;
  const index = keys.findIndex((key) => chosen?.layer === layer.id && key.frame === chosen?.frame);
  if (index >= 0 && "rest" in layer.position!) {
    const key = keys[index];
    const handle = handlesAt(keys, index).find(({ at }) => distance(toScreen(view, at), point) <= HANDLE);
    if (handle) {
      const other = handle.side === "leave" ? key.arrive : key.leave;
      return { kind: "tangent", layer: layer.id!, frame: key.frame, side: handle.side, key: key.point, other };
    }
  }
  const near = keys.find((key) => distance(toScreen(view, key.point), point) <= HANDLE);
  return near ? { kind: "key", layer: layer.id!, frame: near.frame, point: near.point, position: near.position } : null;
}

function guideAt(view: View, point: Point): Hit | null {
  const { guides, rulers } = viewSettings();
  if (!rulers) return null;
  for (const axis of ["x", "y"] as const) {
    const index = axis === "x" ? 0 : 1;
    const place = guides[axis].findIndex((at) => Math.abs(toScreen(view, [at, at])[index] - point[index]) <= 4);
    if (place >= 0) return { kind: "guide", axis, place };
  }
  return null;
}

const RESIZE: Record<string, number> = {
  right: 0,
  "bottom right": 45,
  bottom: 90,
  "bottom left": 135,
  left: 180,
  "top left": 225,
  top: 270,
  "top right": 315,
};

/** The cursor over what lies under the pointer; a handle's arrow turns with the box. */
export function cursorOf(hit: Hit, box: Point[] | null): string {
  if (hit.kind === "outline") return "copy";
  if (["anchor", "tangent", "key", "point", "bend", "gradient"].includes(hit.kind)) return "move";
  if (hit.kind === "ring") return "grab";
  if (hit.kind === "guide") return hit.axis === "x" ? "ew-resize" : "ns-resize";
  if (hit.kind !== "handle" || !box) return "default";
  const turn = (Math.atan2(box[1][1] - box[0][1], box[1][0] - box[0][0]) * 180) / Math.PI;
  const way = Math.round((((RESIZE[hit.name] + turn) % 180) + 180) / 45) % 4;
  return ["ew-resize", "nwse-resize", "ns-resize", "nesw-resize"][way];
}

export const ringIsLit = (hit: Hit) => {
  const over = hit.kind === "ring";
  const changed = lit.ring !== over;
  lit.ring = over;
  return changed;
};
