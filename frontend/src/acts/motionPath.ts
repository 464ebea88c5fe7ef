import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { isItem, stepOutOf } from "../document/items";
import { keyFrames } from "../document/tracks";
import { anchorAt, type Point, STATIONS, stationAt, throughMatrix } from "../geometry/layerGeometry";
import type { Session } from "../session/session";

/** One point a frame over a layer's span, in scene pixels; null where the arrays are not there yet. */
export function pathOf(session: Session, layer: Layer, follow: string): (Point | null)[] {
  const { frames } = session;
  const first = Math.max(layer.span.start, 0);
  const stop = Math.min(layer.span.start + layer.span.length, frames.length);
  const points: (Point | null)[] = [];
  for (let frame = first; frame < stop; frame++) {
    const arrays = frames.layer(layer.id!, frame);
    if (!arrays) frames.look(frame);
    points.push(
      !arrays ? null : follow === "anchor" ? anchorAt(arrays, frame) : stationAt(arrays, frame, STATIONS[follow]),
    );
  }
  return points;
}

/** Where the anchor goes within the layer while it is keyed, laid over the picture as it stands at a frame. */
export function anchorPath(session: Session, layer: Layer, frame: number): Point[] {
  const here = session.frames.layer(layer.id!, frame);
  if (!here || !layer.anchor?.keys?.length) return [];
  const points: Point[] = [];
  const end = Math.min(layer.span.start + layer.span.length, session.frames.length);
  for (let at = Math.max(layer.span.start, 0); at < end; at++) {
    const arrays = session.frames.layer(layer.id!, at);
    if (!arrays) continue;
    const [x, y] = row(arrays, arrays.anchor, at);
    points.push(throughMatrix(here, frame, [x, y]));
  }
  return points;
}

export interface PathKey {
  frame: number;
  /** Where it is drawn in the scene, on the path that is shown; and the position it holds. */
  point: Point;
  position: Point;
  /** Handles in pixels of the scene from the key; null where there is none. */
  leave: Point | null;
  arrive: Point | null;
}

/** The keys of a layer's position where they stand in the scene. */
export function pathKeys(session: Session, layer: Layer, follow = "anchor"): PathKey[] {
  const position = layer.position!;
  const frames =
    "rest" in position
      ? keyFrames(layer, position)
      : [...new Set([...keyFrames(layer, position.x), ...keyFrames(layer, position.y)])].sort((a, b) => a - b);
  return frames.map((frame, i) => {
    const arrays = Number.isInteger(frame) && frame >= 0 ? session.frames.layer(layer.id!, frame) : undefined;
    const key = "rest" in position ? position.keys![i] : undefined;
    const known = arrays ? row(arrays, arrays.values.position, frame) : (key?.value as Point | undefined);
    const place: Point = known ? [known[0], known[1]] : [0, 0];
    const here = arrays && (isItem(layer.id!) || arrays.carrier) ? anchorAt(arrays, frame) : place;
    const point = arrays && follow !== "anchor" ? stationAt(arrays, frame, STATIONS[follow]) : here;
    const handle = (own: Point | null | undefined) => own && stepOutOf(session.frames, layer.id!, frame, own);
    return { frame, point, position: place, leave: handle(key?.leave) ?? null, arrive: handle(key?.arrive) ?? null };
  });
}

/** The handles that can be taken at a path key: its own, or where one would begin, a third of the way to a neighbour. */
export function handlesAt(keys: PathKey[], index: number): { side: "leave" | "arrive"; at: Point; own: boolean }[] {
  const key = keys[index];
  const found: { side: "leave" | "arrive"; at: Point; own: boolean }[] = [];
  for (const [side, other] of [
    ["arrive", keys[index - 1]],
    ["leave", keys[index + 1]],
  ] as const) {
    if (!other) continue;
    const own = key[side];
    const away: Point = own ?? [(other.point[0] - key.point[0]) / 3, (other.point[1] - key.point[1]) / 3];
    found.push({ side, at: [key.point[0] + away[0], key.point[1] + away[1]], own: own !== null });
  }
  return found;
}

/** Whether a path goes anywhere at all. */
export const moves = (points: (Point | null)[]) => {
  const first = points.find((point) => point !== null);
  return (
    first !== undefined &&
    points.some((p) => p && (Math.abs(p[0] - first[0]) > 0.01 || Math.abs(p[1] - first[1]) > 0.01))
  );
};
