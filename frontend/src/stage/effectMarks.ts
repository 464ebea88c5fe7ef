import { row } from "../api/arrays";
import { pointsOf } from "../document/effects";
import { isThere, type Point, throughMatrix, toScreen, type View } from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { effectShown } from "../state/effects";
import { selection } from "../state/selection";
import { inkOf } from "../theme/canvasColours";

/** A point of the effect that is worked on: the property that it is, and where it stands on the stage. */
export interface EffectMark {
  layer: string;
  path: string;
  at: Point;
}

/** The points of the effect that is worked on, at the playhead; none where none shows. */
export function effectMarks(session: Session, view: View): EffectMark[] {
  const { layer: id, effect } = effectShown();
  const { selected, editing } = selection();
  if (!id || editing || selected.length !== 1 || selected[0] !== id) return [];
  const arrays = session.frames.layer(id);
  const points = pointsOf(session.layer(id), effect);
  const { frame } = session.frames;
  if (!arrays || !points || !isThere(arrays, frame)) return [];
  const [left, top, width, height] = row(arrays, arrays.box, frame);
  return points.paths
    .filter((path) => path in arrays.values)
    .map((path) => {
      const [x, y] = row(arrays, arrays.values[path], frame);
      const at = throughMatrix(arrays, frame, [left + (x / 100) * width, top + (y / 100) * height]);
      return { layer: id, path, at: toScreen(view, at) };
    });
}

/** Each point as a ring with four ticks; corners that are pinned are joined. */
export function drawEffects(session: Session, pen: CanvasRenderingContext2D, view: View) {
  const marks = effectMarks(session, view);
  pen.canvas.dataset.effectPoints = String(marks.length);
  if (marks.length > 2) {
    pen.beginPath();
    for (const { at } of marks) pen.lineTo(...at);
    pen.closePath();
    for (const [ink, width] of [
      ["markHalo", 3],
      ["act", 1.2],
    ] as const) {
      pen.strokeStyle = inkOf(ink);
      pen.lineWidth = width;
      pen.stroke();
    }
  }
  for (const {
    at: [x, y],
  } of marks) {
    const ticks = new Path2D();
    ticks.arc(x, y, 5, 0, 2 * Math.PI);
    for (const [dx, dy] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ]) {
      ticks.moveTo(x + 5 * dx, y + 5 * dy);
      ticks.lineTo(x + 10 * dx, y + 10 * dy);
    }
    pen.lineCap = "round";
    for (const [ink, width] of [
      ["markHalo", 4.5],
      ["act", 2],
    ] as const) {
      pen.strokeStyle = inkOf(ink);
      pen.lineWidth = width;
      pen.stroke(ticks);
    }
    pen.lineCap = "butt";
  }
}
