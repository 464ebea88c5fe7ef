import type { LayerArrays } from "../api/arrays";
import { row } from "../api/arrays";
import { isMask, outOf } from "../document/items";
import { type Point, toScreen, type View } from "../geometry/layerGeometry";
import { built } from "../paint/outline";
import type { Session } from "../session/session";
import { selection } from "../state/selection";
import { inkOf } from "../theme/canvasColours";

/** Draws the masks of what is selected as dashed lines, and where the content of a framed layer ends behind them. */
export function drawWindows(session: Session, pen: CanvasRenderingContext2D, view: View) {
  let shown = 0;
  const layers = new Set(
    selection()
      .selected.slice(0, 8)
      .map((id) => (isMask(id) ? outOf(id) : id)),
  );
  for (const id of layers) {
    const arrays = session.frames.layer(id);
    if (!arrays) continue;
    if (session.layer(id)?.framing) content(session, arrays, pen, view);
    shown += masks(session, arrays, pen, view);
  }
  pen.canvas.dataset.masks = String(shown);
}

function masks(session: Session, layer: LayerArrays, pen: CanvasRenderingContext2D, view: View): number {
  const { frame } = session.frames;
  for (const mask of layer.group.masks) {
    const path = new Path2D();
    const { scale, x, y } = view;
    const [a, b, c, d, e, f] = row(layer, mask.matrix, frame);
    const place = new DOMMatrix([scale, 0, 0, scale, x, y]).multiply(new DOMMatrix([a, b, c, d, e, f]));
    for (const part of mask.parts) path.addPath(built(part.verbs, row(layer, part.points, frame)), place);
    pen.lineWidth = 3;
    pen.strokeStyle = inkOf("markHalo");
    pen.globalAlpha = 0.85;
    pen.stroke(path);
    pen.globalAlpha = 1;
    pen.setLineDash([6, 4]);
    pen.lineWidth = 1.5;
    pen.strokeStyle = inkOf("act");
    pen.stroke(path);
    pen.setLineDash([]);
  }
  return layer.group.masks.length;
}

function content(session: Session, layer: LayerArrays, pen: CanvasRenderingContext2D, view: View) {
  const { frame } = session.frames;
  const [left, top, width, height] = row(layer, layer.content, frame);
  const [a, b, c, d, e, f] = row(layer, layer.inner, frame);
  const corners: Point[] = [
    [left, top],
    [left + width, top],
    [left + width, top + height],
    [left, top + height],
  ];
  pen.beginPath();
  for (const [x, y] of corners) pen.lineTo(...toScreen(view, [a * x + c * y + e, b * x + d * y + f]));
  pen.closePath();
  pen.setLineDash([2, 4]);
  for (const [ink, width_] of [
    ["markHalo", 2.5],
    ["quiet", 1.2],
  ] as const) {
    pen.strokeStyle = inkOf(ink);
    pen.lineWidth = width_;
    pen.stroke();
  }
  pen.setLineDash([]);
}
