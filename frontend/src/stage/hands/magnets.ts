import { insideOf, layerIn, within } from "../../document/items";
import { anchorAt, distance, isThere, type Point, STATIONS, stationAt } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { tools } from "../../state/tools";
import { viewSettings } from "../../state/viewSettings";
import { type Keys, lit } from "./gesture";

interface Named<T> {
  at: T;
  name: string;
}

/** What a pointer snaps to: points of other layers, lines of the scene on each axis, and those with the points' own. */
export interface Magnets {
  points: Named<Point>[];
  lines: [Named<number>[], Named<number>[]];
  all: [Named<number>[], Named<number>[]];
}

/** How near, in screen pixels, points and lines draw. */
const POINT = 12;
const LINE = 6;

const share = (name: string, k: number, size: Point): [Named<number>, Named<number>] => [
  { at: size[0] * k, name },
  { at: size[1] * k, name },
];

/** The magnets of a scene at a frame, but for the layers that move. */
export function magnetsOf(session: Session, frame: number, moving: string[]): Magnets {
  const { scene } = session.answer!;
  const size: Point = [scene.width, scene.height];
  const { guides } = viewSettings();
  const fixed = [
    share("Scene centre", 1 / 2, size),
    share("Edge of the scene", 0, size),
    share("Edge of the scene", 1, size),
    share("Third", 1 / 3, size),
    share("Third", 2 / 3, size),
    ...Object.entries(session.safe).flatMap(([name, k]) => [
      share(`${name}-safe edge`, (1 - k) / 2, size),
      share(`${name}-safe edge`, (1 + k) / 2, size),
    ]),
  ];
  const lines: Magnets["lines"] = [
    [...fixed.map(([x]) => x), ...guides.x.map((at) => ({ at, name: "Guide" }))],
    [...fixed.map(([, y]) => y), ...guides.y.map((at) => ({ at, name: "Guide" }))],
  ];
  const points: Named<Point>[] = [];
  const parent = session.layer(insideOf(moving));
  // A shape goes with the layer it lies in: what holds it are its own siblings, and other layers.
  const others = session.frames.order.filter((id) => !parent || id !== layerIn(parent.id!));
  for (const id of parent ? [...others, ...within(parent)] : others) {
    const arrays = session.frames.layer(id);
    const layer = session.layer(id);
    if (!arrays || !layer || moving.includes(id) || !isThere(arrays, frame)) continue;
    for (const [station, share] of Object.entries(STATIONS))
      points.push({ at: stationAt(arrays, frame, share), name: `${station} of ${layer.name}` });
    points.push({ at: anchorAt(arrays, frame), name: `Anchor of ${layer.name}` });
  }
  const through = (axis: 0 | 1) => points.map(({ at, name }) => ({ at: at[axis], name }));
  return { points, lines, all: [lines[0].concat(through(0)), lines[1].concat(through(1))] };
}

export const magnetic = (keys: Keys) => tools().magnet && !keys.free;

/** The nearest of some points within reach, at a scale of the view. */
export function nearest<T extends { at: Point }>(point: Point, points: T[], scale: number): T | null {
  let best: T | null = null;
  let far = POINT / scale;
  for (const one of points) {
    const away = distance(one.at, point);
    if (away < far) [best, far] = [one, away];
  }
  return best;
}

/** A point snapped to points, else to lines on each axis; what holds it is lit. */
export function pulled(point: Point, magnets: Magnets, scale: number): Point {
  const near = nearest(point, magnets.points, scale);
  if (near) {
    lit.note = near.name;
    lit.guides = { x: near.at[0], y: near.at[1] };
    return near.at;
  }
  const along = (axis: 0 | 1) => point[axis] + pulledAlong(axis, [point[axis]], magnets.lines, scale);
  return [along(0), along(1)];
}

/** The step by which the nearest of some places along an axis snaps to a line. */
export function pulledAlong(axis: 0 | 1, places: number[], goals: Magnets["lines"], scale: number): number {
  let best = LINE / scale;
  let step = 0;
  for (const goal of goals[axis]) {
    for (const place of places) {
      const away = goal.at - place;
      if (Math.abs(away) >= best) continue;
      best = Math.abs(away);
      step = away;
      lit.guides[axis === 0 ? "x" : "y"] = goal.at;
      lit.note = goal.name;
    }
  }
  return step;
}
