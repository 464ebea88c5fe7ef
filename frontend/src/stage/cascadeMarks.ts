import { isThere, type Point, throughMatrix, toScreen, type View } from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { cascadeShown } from "../state/cascades";
import { selection } from "../state/selection";
import { inkOf } from "../theme/canvasColours";

const NUMBER = "650 10px 'Figtree Variable', sans-serif";
/** Units that have their number in the order beside them, where there is room. */
const MOST_NUMBERS = 60;

/** A unit of the cascade that is worked on, in stage pixels. */
export interface UnitMark {
  index: number;
  corners: Point[];
  anchor: Point;
}

/** The units of the cascade that is worked on where they are at rest, as they are drawn on the stage; none where none shows. */
export function unitMarks(session: Session, view: View): UnitMark[] {
  const { selected, editing } = selection();
  const shown = selected.length === 1 && !editing ? cascadeShown(selected[0]) : undefined;
  const arrays = shown && session.frames.layer(selected[0]);
  if (!shown || !arrays || !isThere(arrays, session.frames.frame)) return [];
  const place = ([x, y]: Point) => toScreen(view, throughMatrix(arrays, session.frames.frame, [x, y]));
  const [dx, dy] = shown.dragged;
  return shown.units.map(({ box: [left, top, width, height], anchor: [x, y] }, index) => ({
    index,
    corners: [
      [left, top],
      [left + width, top],
      [left + width, top + height],
      [left, top + height],
    ].map((corner) => place(corner as Point)),
    anchor: place([x + dx, y + dy]),
  }));
}

/** The boxes of units, their anchors, and their numbers in the order; the one that is looked at stands out. */
export function drawCascade(session: Session, pen: CanvasRenderingContext2D, view: View) {
  const marks = unitMarks(session, view);
  pen.canvas.dataset.units = String(marks.length);
  if (!marks.length) return;
  const shown = cascadeShown(selection().selected[0])!;
  const order = [...shown.units.keys()].sort((a, b) => shown.units[a].begins - shown.units[b].begins || a - b);
  const number = new Map(order.map((index, at) => [index, at + 1]));
  for (const { index, corners } of marks) {
    const picked = shown.unit === index;
    pen.beginPath();
    for (const at of corners) pen.lineTo(...at);
    pen.closePath();
    for (const [ink, width] of [
      ["markHalo", picked ? 4 : 2.5],
      ["act", picked ? 2 : 1],
    ] as const) {
      pen.strokeStyle = inkOf(ink);
      pen.lineWidth = width;
      // What takes part little is faint.
      pen.globalAlpha = (picked || shown.unit === null ? 0.9 : 0.45) * (0.25 + 0.75 * shown.units[index].strength);
      pen.stroke();
    }
  }
  pen.globalAlpha = 1;
  // Units that have one point in common have one mark.
  const drawn = new Set<string>();
  for (const { index, anchor } of marks) {
    const key = anchor.map(Math.round).join();
    if (drawn.has(key)) continue;
    drawn.add(key);
    cross(pen, anchor, shown.unit === index);
  }
  if (marks.length > MOST_NUMBERS) return;
  pen.save();
  pen.font = NUMBER;
  pen.textAlign = "center";
  pen.textBaseline = "bottom";
  for (const { index, corners } of marks) {
    const [x, y] = [(corners[0][0] + corners[1][0]) / 2, Math.min(corners[0][1], corners[1][1]) - 2];
    const text = String(number.get(index));
    const wide = pen.measureText(text).width + 7;
    pen.beginPath();
    pen.roundRect(x - wide / 2, y - 13, wide, 13, 6);
    pen.fillStyle = inkOf("markHalo");
    pen.fill();
    pen.fillStyle = inkOf("act");
    pen.fillText(text, x, y - 1);
  }
  pen.restore();
}

/** An anchor of a unit: a small ring with a dot, in the colour of anchors. */
function cross(pen: CanvasRenderingContext2D, [x, y]: Point, picked: boolean) {
  pen.beginPath();
  pen.arc(x, y, picked ? 5.5 : 4, 0, 2 * Math.PI);
  pen.fillStyle = inkOf("markHalo");
  pen.fill();
  pen.strokeStyle = inkOf("anchorInk");
  pen.lineWidth = picked ? 2.2 : 1.5;
  pen.stroke();
  pen.beginPath();
  pen.arc(x, y, 1.4, 0, 2 * Math.PI);
  pen.fillStyle = inkOf("anchorInk");
  pen.fill();
}
