import { type Point, toScreen, type View } from "../geometry/layerGeometry";
import { neighbours, pathIn, pathPoints } from "../session/drawnPath";
import type { Session } from "../session/session";
import { selection } from "../state/selection";
import { inkOf } from "../theme/canvasColours";
import { lit } from "./hands/gesture";
import { startOf } from "./hands/points";
import { shownHandles } from "./hitTest";

type Pen = CanvasRenderingContext2D;

/** The points and handles of the path that is edited or drawn: points are square, ends of handles round. */
export function drawPath(session: Session, pen: Pen, view: View) {
  const { points: chosen, drawing, selected } = selection();
  const layer = drawing ? drawing.layer : chosen ? selected[0] : null;
  const path = layer ? pathIn(session.layer(layer)) : undefined;
  pen.canvas.dataset.points = path ? String(path.points.rest.length) : "";
  const points = path && layer ? pathPoints(session, layer) : [];
  const seen = points.map(({ at, in: arrive, out }) => ({
    at: toScreen(view, at),
    in: toScreen(view, arrive),
    out: toScreen(view, out),
  }));
  if (path) {
    pen.beginPath();
    seen.forEach((from, i) => {
      const [, next] = neighbours(path, i);
      if (next === i) return;
      const to = seen[next];
      if (!to) return;
      pen.moveTo(...from.at);
      pen.bezierCurveTo(...from.out, ...to.in, ...to.at);
    });
    twice(pen, 1.25);
    const shown = drawing ? new Set([seen.length - 1]) : shownHandles(path, chosen ?? []);
    for (const i of shown) if (seen[i]) handles(pen, seen[i]);
    for (const [i, { at }] of seen.entries())
      square(pen, at, Boolean(chosen?.includes(i)) || (drawing !== null && i === 0));
  }
  if (drawing) ahead(session, pen, view, seen.at(-1));
}

/** Where the next point would lead, and the point that the pen is putting down. */
function ahead(session: Session, pen: Pen, view: View, last: { at: Point; out: Point } | undefined) {
  const next = lit.pen?.at ?? lit.next;
  if (next && last && !lit.pen) {
    const to = toScreen(view, next);
    pen.beginPath();
    pen.moveTo(...last.at);
    pen.bezierCurveTo(...last.out, ...to, ...to);
    pen.setLineDash([5, 4]);
    twice(pen, 1.25);
    pen.setLineDash([]);
    const first = startOf(session, selection().drawing);
    if (first) {
      const at = toScreen(view, first.at);
      if (Math.hypot(at[0] - to[0], at[1] - to[1]) <= 9) ring(pen, at);
    }
  }
  if (lit.pen) {
    const { at, handle } = lit.pen;
    const place = (way: number) => toScreen(view, [at[0] + way * handle[0], at[1] + way * handle[1]]);
    handles(pen, { at: toScreen(view, at), in: place(-1), out: place(1) });
    square(pen, toScreen(view, at), true);
  }
}

function handles(pen: Pen, { at, in: arrive, out }: { at: Point; in: Point; out: Point }) {
  for (const end of [arrive, out]) {
    if (Math.hypot(end[0] - at[0], end[1] - at[1]) < 0.5) continue;
    pen.beginPath();
    pen.moveTo(...at);
    pen.lineTo(...end);
    twice(pen, 1);
    pen.beginPath();
    pen.arc(...end, 4, 0, 2 * Math.PI);
    pen.fillStyle = inkOf("markHalo");
    pen.fill();
    pen.strokeStyle = inkOf("act");
    pen.lineWidth = 1.5;
    pen.stroke();
  }
}

function square(pen: Pen, [x, y]: Point, on: boolean) {
  pen.beginPath();
  pen.rect(x - 4, y - 4, 8, 8);
  pen.fillStyle = inkOf(on ? "act" : "markHalo");
  pen.fill();
  pen.strokeStyle = inkOf(on ? "markHalo" : "act");
  pen.lineWidth = 1.5;
  pen.stroke();
}

function ring(pen: Pen, at: Point) {
  pen.beginPath();
  pen.arc(...at, 9, 0, 2 * Math.PI);
  pen.strokeStyle = inkOf("act");
  pen.lineWidth = 2;
  pen.stroke();
}

/** Dark under light, so that a line is seen on any picture. */
function twice(pen: Pen, width: number) {
  pen.strokeStyle = inkOf("markHalo");
  pen.lineWidth = width + 2;
  pen.globalAlpha = 0.85;
  pen.stroke();
  pen.globalAlpha = 1;
  pen.strokeStyle = inkOf("act");
  pen.lineWidth = width;
  pen.stroke();
}
