import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { type Item, isBare, itemsOf } from "../document/items";
import { type Point, throughMatrix } from "../geometry/layerGeometry";
import { say } from "../state/page";
import { select, selection, setSelection } from "../state/selection";
import type { Session } from "./session";

export type PathItem = Extract<Item, { shape?: "path" }>;

/** A point of a path in the scene, with the ends of its handles; a handle without a length ends at the point. */
export interface PathPoint {
  at: Point;
  in: Point;
  out: Point;
}

/** The numbers of one point in `content.items.0.points`: x, y, and the two handles from it. */
const PER_POINT = 6;

/** The path that a layer, or a shape within one, is; undefined where it is none. */
export function pathIn(layer: Layer | undefined): PathItem | undefined {
  if (!layer || !isBare(layer)) return undefined;
  const [item] = itemsOf(layer);
  return item.shape === "path" ? (item as PathItem) : undefined;
}

/** The points of a path where they stand in the scene at the playhead. */
export function pathPoints(session: Session, id: string): PathPoint[] {
  const { frames } = session;
  const arrays = frames.layer(id);
  const column = arrays?.values["content.items.0.points"];
  if (!arrays || column === undefined) return [];
  const numbers = row(arrays, column, frames.frame);
  const [ox, oy] = row(arrays, arrays.values["content.items.0.at"], frames.frame);
  const placed = (x: number, y: number) => throughMatrix(arrays, frames.frame, [x + ox, y + oy]);
  return Array.from({ length: numbers.length / PER_POINT }, (_, i) => {
    const [x, y, ax, ay, bx, by] = numbers.subarray(i * PER_POINT, (i + 1) * PER_POINT);
    return { at: placed(x, y), in: placed(x + ax, y + ay), out: placed(x + bx, y + by) };
  });
}

/** How many points the path of a layer, or of a shape within one, has; 0 where it is none. */
export function pointCount(layer: Layer | undefined): number {
  return (pathIn(layer)?.contours ?? []).reduce((sum, { count }) => sum + count, 0);
}

/** The contour that a point of a path belongs to. */
export function runOf(path: PathItem, point: number): number {
  let first = 0;
  return path.contours.findIndex(({ count }) => {
    first += count;
    return point < first;
  });
}

/** The points before and after each, as far as a curve leads there; its own number where none does. */
export function neighbours(path: PathItem, point: number): [number, number] {
  let first = 0;
  for (const { count, closed } of path.contours) {
    if (point < first + count) {
      const round = (n: number) => first + ((((n - first) % count) + count) % count);
      const before = closed || point > first ? round(point - 1) : point;
      return [before, closed || point < first + count - 1 ? round(point + 1) : point];
    }
    first += count;
  }
  return [point, point];
}

/** Begin to draw a path: the next click on the stage is its first point. */
export function startDrawing(into: string) {
  setSelection({ drawing: { layer: null, into }, points: null });
}

export const stopDrawing = () => setSelection({ drawing: null });

/** Strokes of a path are kept one after another: what is still to be kept. */
export const strokes = { kept: Promise.resolve() };

/** End drawing by hand. A path of one point shows nothing: it goes again. */
export async function endDrawing(session: Session) {
  const { drawing } = selection();
  stopDrawing();
  await strokes.kept;
  const layer = drawing?.layer;
  if (!layer || pointCount(session.layer(layer)) !== 1) return;
  if (await session.edit({ edit: "delete_layers", layers: [layer] } as never)) {
    select();
    say("A path has two points at least, so nothing was drawn.");
  }
}
