import type { LayerArrays } from "../api/arrays";
import { row } from "../api/arrays";

export type Point = [number, number];

/** How the scene lies in the stage: scale, and where its top left corner is, in screen pixels. */
export interface View {
  scale: number;
  x: number;
  y: number;
}

export const toScreen = (view: View, [x, y]: Point): Point => [view.x + x * view.scale, view.y + y * view.scale];
export const toScene = (view: View, [x, y]: Point): Point => [(x - view.x) / view.scale, (y - view.y) / view.scale];

/** A content point through the layer's matrix at a frame. */
export function throughMatrix(layer: LayerArrays, frame: number, [x, y]: Point): Point {
  const [a, b, c, d, e, f] = row(layer, layer.matrix, frame);
  return [a * x + c * y + e, b * x + d * y + f];
}

/** The point of the box at fractions (x, y), in scene pixels. */
export function stationAt(layer: LayerArrays, frame: number, [fx, fy]: Point): Point {
  const [left, top, width, height] = row(layer, layer.box, frame);
  return throughMatrix(layer, frame, [left + fx * width, top + fy * height]);
}

export function anchorAt(layer: LayerArrays, frame: number): Point {
  const [x, y] = row(layer, layer.anchor, frame);
  return throughMatrix(layer, frame, [x, y]);
}

export const isThere = (layer: LayerArrays, frame: number) => row(layer, layer.visible, frame)[0] > 0;

/** Whether a scene point lies in the layer's box at a frame. */
export function boxHolds(layer: LayerArrays, frame: number, [px, py]: Point): boolean {
  const [a, b, c, d, e, f] = row(layer, layer.matrix, frame);
  const det = a * d - b * c;
  if (det === 0 || !isThere(layer, frame)) return false;
  const x = (d * (px - e) - c * (py - f)) / det;
  const y = (-b * (px - e) + a * (py - f)) / det;
  const [left, top, width, height] = row(layer, layer.box, frame);
  return x >= left && x <= left + width && y >= top && y <= top + height;
}

const CORNERS: Point[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/** The box's corners in the scene, clockwise from top left. */
export const cornersOf = (layer: LayerArrays, frame: number): Point[] =>
  CORNERS.map((at) => stationAt(layer, frame, at));

/** left, top, right, bottom of the boxes of layers together, in the scene. */
export function commonBox(layers: LayerArrays[], frame: number): [number, number, number, number] {
  const points = layers.flatMap((layer) => cornersOf(layer, frame));
  const along = (axis: 0 | 1) => points.map((point) => point[axis]);
  return [Math.min(...along(0)), Math.min(...along(1)), Math.max(...along(0)), Math.max(...along(1))];
}

/** Whether a layer that is there touches an upright frame low…high after `place`: axes of both, none keeps them apart. */
export function boxInside(
  layer: LayerArrays,
  frame: number,
  place: (point: Point) => Point,
  low: Point,
  high: Point,
): boolean {
  if (!isThere(layer, frame)) return false;
  const box = cornersOf(layer, frame).map(place);
  const rect: Point[] = [low, [high[0], low[1]], high, [low[0], high[1]]];
  const normals: Point[] = [
    [1, 0],
    [0, 1],
  ];
  for (const [from, to] of [
    [box[0], box[1]],
    [box[1], box[2]],
  ])
    normals.push([to[1] - from[1], from[0] - to[0]]);
  return normals.every(([nx, ny]) => {
    const span = (points: Point[]) => points.map(([x, y]) => x * nx + y * ny);
    const [a, b] = [span(box), span(rect)];
    return Math.max(...a) >= Math.min(...b) && Math.max(...b) >= Math.min(...a);
  });
}

export const distance = ([ax, ay]: Point, [bx, by]: Point) => Math.hypot(ax - bx, ay - by);

/** The distance of a point from the edge of a polygon, below 0 inside it. */
export function fromPolygon([px, py]: Point, corners: Point[]): number {
  let far = Number.POSITIVE_INFINITY;
  let inside = false;
  corners.forEach(([ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % corners.length];
    const [dx, dy] = [bx - ax, by - ay];
    const size = dx * dx + dy * dy;
    const t = size ? Math.min(Math.max(((px - ax) * dx + (py - ay) * dy) / size, 0), 1) : 0;
    far = Math.min(far, Math.hypot(px - ax - t * dx, py - ay - t * dy));
    if (ay > py !== by > py && px < ((bx - ax) * (py - ay)) / (by - ay) + ax) inside = !inside;
  });
  return inside ? -far : far;
}

export const STATIONS: Record<string, Point> = {
  "top left": [0, 0],
  top: [0.5, 0],
  "top right": [1, 0],
  left: [0, 0.5],
  centre: [0.5, 0.5],
  right: [1, 0.5],
  "bottom left": [0, 1],
  bottom: [0.5, 1],
  "bottom right": [1, 1],
};

/** Lines of a text whose baselines are stations, as the core has it. */
const MOST_LINES = 24;

/** Every station of a layer in the scene by its name; a text has those of the baselines of its lines too. */
export function stationsOf(layer: LayerArrays, frame: number): Record<string, Point> {
  const found: Record<string, Point> = {};
  for (const [name, at] of Object.entries(STATIONS)) found[name] = stationAt(layer, frame, at);
  const lines = row(layer, layer.baselines, frame);
  const [left, , width] = row(layer, layer.box, frame);
  lines.forEach((y, i) => {
    // Of two at one place the first is shown.
    if (i && y === lines[i - 1]) return;
    const last = lines.slice(i).every((below) => below === y);
    if (!last && i >= MOST_LINES - 1) return;
    const line = i === 0 ? "first" : last ? "last" : `line ${i + 1}`;
    for (const [side, x] of Object.entries({ " left": 0, "": 0.5, " right": 1 }))
      found[`${line} baseline${side}`] = throughMatrix(layer, frame, [left + x * width, y]);
  });
  return found;
}

/** What the anchor's place is called: its station, or "Anchor". */
export function placeName(fx: number, fy: number): string {
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-4;
  const found = Object.entries(STATIONS).find(([, [x, y]]) => near(x, fx) && near(y, fy))?.[0];
  if (!found) return "Anchor";
  const edge = ["top", "left", "right", "bottom"].includes(found) ? `${found} edge` : found;
  return edge[0].toUpperCase() + edge.slice(1);
}

/**
 * How the scene lies in a stage of `room`: fitted where `zoom` is null, else with the scene point `centre` in the middle,
 * so that whatever changes the zoom keeps what is seen there.
 */
export function viewOf(
  [width, height]: Point,
  zoom: number | null,
  centre: Point | null,
  [w, h]: Point,
  edge: number,
): View {
  const fit = Math.min((width - 2 * edge) / w, (height - 2 * edge) / h);
  const scale = zoom ?? Math.max(Math.min(fit, 1), 0.02);
  const [cx, cy] = (zoom !== null && centre) || [w / 2, h / 2];
  return { scale, x: Math.round(width / 2 - cx * scale), y: Math.round(height / 2 - cy * scale) };
}

/** The scene point in the middle of a stage. */
export const centreOf = (view: View, [width, height]: Point): Point => toScene(view, [width / 2, height / 2]);
