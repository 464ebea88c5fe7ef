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

/** Whether a scene point lies in the layer's box at a frame. */
export function boxHolds(layer: LayerArrays, frame: number, [px, py]: Point): boolean {
  const [a, b, c, d, e, f] = row(layer, layer.matrix, frame);
  const det = a * d - b * c;
  if (det === 0 || !row(layer, layer.visible, frame)[0]) return false;
  const x = (d * (px - e) - c * (py - f)) / det;
  const y = (-b * (px - e) + a * (py - f)) / det;
  const [left, top, width, height] = row(layer, layer.box, frame);
  return x >= left && x <= left + width && y >= top && y <= top + height;
}

export const distance = ([ax, ay]: Point, [bx, by]: Point) => Math.hypot(ax - bx, ay - by);

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

/** What the anchor's place is called: its station, or "Anchor". */
export function placeName(fx: number, fy: number): string {
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-4;
  const found = Object.entries(STATIONS).find(([, [x, y]]) => near(x, fx) && near(y, fy))?.[0];
  if (!found) return "Anchor";
  const edge = ["top", "left", "right", "bottom"].includes(found) ? `${found} edge` : found;
  return edge[0].toUpperCase() + edge.slice(1);
}
