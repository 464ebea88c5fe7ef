import { anchorPath, handlesAt, moves, pathKeys, pathOf } from "../acts/motionPath";
import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { poseFrames } from "../document/tracks";
import { anchorAt, cornersOf, isThere, type Point, toScreen, type View } from "../geometry/layerGeometry";
import { kindOf } from "../kinds/layers";
import type { Painter } from "../paint/painter";
import type { Session } from "../session/session";
import { playback } from "../state/playback";
import { selection } from "../state/selection";
import { viewSettings } from "../state/viewSettings";
import { inkOf } from "../theme/canvasColours";
import { lit } from "./hands/gesture";

type Pen = CanvasRenderingContext2D;

/** Draws over the picture, in stage pixels: grid, safe areas, guides, outlines, and the motion of what is selected. */
export class Marks {
  constructor(
    private readonly session: Session,
    private readonly painter: Painter,
    readonly pen: Pen,
  ) {}

  draw(view: View, size: Point) {
    const { pen } = this;
    const ratio = devicePixelRatio;
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    pen.clearRect(0, 0, pen.canvas.width, pen.canvas.height);
    const chosen = viewSettings();
    if (chosen.outlines) this.outlines(view, size);
    if (chosen.grid && view.scale >= 8) this.grid(view, size);
    this.lines(view, size);
    this.finding(view);
    if (chosen.mark) this.empties(view);
    for (const id of selection().selected.slice(0, 8)) {
      const layer = this.session.layer(id);
      if (!layer) continue;
      if (chosen.ghosts && !playback().playing) this.ghostBoxes(layer, view);
      if (chosen.path) this.path(layer, view);
      this.anchor(layer, view);
    }
    this.snapLines(view, size);
  }

  /** Layers without a picture, as marks: an upright cross that turns with each. */
  private empties(view: View) {
    const { pen, session } = this;
    const { frame } = session.frames;
    let count = 0;
    for (const layer of session.answer?.scene.layers ?? []) {
      const arrays = kindOf(layer).markOnly ? session.frames.layer(layer.id!) : undefined;
      if (!arrays || !isThere(arrays, frame)) continue;
      count += 1;
      const [x, y] = toScreen(view, anchorAt(arrays, frame));
      const [a, b] = row(arrays, arrays.matrix, frame);
      const size = Math.hypot(a, b) || 1;
      const [cx, cy] = [(a / size) * 9, (b / size) * 9];
      pen.beginPath();
      pen.moveTo(x - cx, y - cy);
      pen.lineTo(x + cx, y + cy);
      pen.moveTo(x + cy, y - cx);
      pen.lineTo(x - cy, y + cx);
      this.twice(inkOf("act"), 1.5, 0.85);
    }
    pen.canvas.dataset.empties = String(count);
  }

  /** What a check found, at its frame: what is bare shaded, what is passed or left as lines. */
  private finding(view: View) {
    const { pen, session } = this;
    const { finding } = selection();
    const here = finding && finding.frame === session.frames.frame ? finding : null;
    pen.canvas.dataset.finding = here ? `${here.check} ${here.areas.length} ${here.lines.length}` : "";
    if (!here) return;
    for (const area of here.areas) {
      this.line([...area, area[0]], view);
      pen.fillStyle = inkOf("markCoral");
      pen.globalAlpha = 0.55;
      pen.fill();
      pen.globalAlpha = 1;
      this.twice(inkOf("markHalo"), 1.2);
    }
    for (const line of here.lines) {
      this.line(line, view);
      pen.setLineDash([7, 4]);
      this.twice(inkOf("finding"), 2);
      pen.setLineDash([]);
    }
  }

  private line(points: (Point | null)[], view: View) {
    const { pen } = this;
    pen.beginPath();
    let down = false;
    let [ox, oy] = [0, 0];
    points.forEach((point, i) => {
      if (!point) {
        down = false;
        return;
      }
      const [x, y] = toScreen(view, point);
      // A slow path has many points to a pixel: those nearer than 2 px to the last one do not bend the line.
      if (down && i < points.length - 1 && Math.abs(x - ox) + Math.abs(y - oy) < 2) return;
      if (down) pen.lineTo(x, y);
      else pen.moveTo(x, y);
      down = true;
      [ox, oy] = [x, y];
    });
  }

  /** Two strokes, dark under light, so that a line is seen on any picture. */
  private twice(ink: string, width: number, shade = 0.55) {
    const { pen } = this;
    pen.lineJoin = "round";
    pen.strokeStyle = inkOf("markLine");
    pen.globalAlpha = shade;
    pen.lineWidth = width + (shade > 0.5 ? 2 : 1);
    pen.stroke();
    pen.globalAlpha = 1;
    pen.strokeStyle = ink;
    pen.lineWidth = width;
    pen.stroke();
  }

  /** A guide in a light band, so that it is seen on the dark too. */
  private guide(width: number, dash: number[] = []) {
    const { pen } = this;
    pen.strokeStyle = inkOf("markHalo");
    pen.globalAlpha = 0.7;
    pen.lineWidth = width + 2;
    pen.stroke();
    pen.globalAlpha = 1;
    pen.strokeStyle = inkOf("markGuide");
    pen.lineWidth = width;
    pen.setLineDash(dash);
    pen.stroke();
    pen.setLineDash([]);
  }

  private path(layer: Layer, view: View) {
    const { session } = this;
    const { follow, speed } = viewSettings();
    const points = pathOf(session, layer, follow);
    if (!moves(points)) return;
    const ink = inkOf("markHalo");
    if (speed) this.speeds(points, view);
    else {
      this.line(points, view);
      this.twice(ink, 1.2);
    }
    if (points.length <= 900) this.dots(points, view, 1.9, ink);
    const now = points[session.frames.frame - Math.max(layer.span.start, 0)];
    if (now) this.now(toScreen(view, now));
    if (selection().selected.length === 1) this.pathKeys(layer, view);
  }

  private now([x, y]: Point) {
    const { pen } = this;
    pen.beginPath();
    pen.arc(x, y, 3.4, 0, 2 * Math.PI);
    pen.fillStyle = inkOf("markCoral");
    pen.strokeStyle = inkOf("markLine");
    pen.lineWidth = 1;
    pen.stroke();
    pen.fill();
  }

  /**
   * A dot for each point, dark about light; so small that a square is one, and many times as quick as a circle. Of those
   * that lie nearly on one another, which make but a line, one is drawn.
   */
  private dots(points: (Point | null)[], view: View, size: number, ink: string) {
    const { pen } = this;
    const places: Point[] = [];
    for (const point of points) {
      const place = point && toScreen(view, point);
      const last = places.at(-1);
      if (place && !(last && Math.abs(place[0] - last[0]) < 1.5 && Math.abs(place[1] - last[1]) < 1.5))
        places.push(place);
    }
    for (const [colour, half] of [
      [inkOf("markLine"), size + 0.5],
      [ink, size - 0.5],
    ] as const) {
      pen.fillStyle = colour;
      for (const [x, y] of places) pen.fillRect(x - half, y - half, 2 * half, 2 * half);
    }
  }

  /** The path as thick as it is quick: 1 to 9 px, the widest where the layer is fastest. */
  private speeds(points: (Point | null)[], view: View) {
    const { pen } = this;
    const steps = points.slice(1).map((point, i) => {
      const before = points[i];
      return point && before ? Math.hypot(point[0] - before[0], point[1] - before[1]) : 0;
    });
    const most = Math.max(...steps, 1e-9);
    pen.lineCap = "round";
    for (const [ink, extra, alpha] of [
      [inkOf("markLine"), 2, 0.5],
      [inkOf("position"), 0, 0.95],
    ] as const) {
      pen.strokeStyle = ink;
      pen.globalAlpha = alpha;
      steps.forEach((step, i) => {
        if (!points[i] || !points[i + 1]) return;
        pen.beginPath();
        pen.moveTo(...toScreen(view, points[i]!));
        pen.lineTo(...toScreen(view, points[i + 1]!));
        pen.lineWidth = 1 + (8 * step) / most + extra;
        pen.stroke();
      });
    }
    pen.globalAlpha = 1;
  }

  private pathKeys(layer: Layer, view: View) {
    const { pen, session } = this;
    const keys = pathKeys(session, layer, viewSettings().follow);
    const chosen = selection().pathKey;
    keys.forEach((key, i) => {
      const [x, y] = toScreen(view, key.point);
      const on = chosen?.layer === layer.id && chosen?.frame === key.frame;
      if (on && "rest" in layer.position!) {
        const shown = lit.handles ? { ...key, ...lit.handles } : key;
        for (const { at, own } of handlesAt(keys.with(i, shown), i)) {
          const [hx, hy] = toScreen(view, at);
          pen.beginPath();
          pen.moveTo(x, y);
          pen.lineTo(hx, hy);
          pen.setLineDash(own ? [] : [3, 3]);
          this.twice(inkOf("markHalo"), 1.2);
          pen.setLineDash([]);
          pen.beginPath();
          pen.arc(hx, hy, 4.5, 0, 7);
          pen.fillStyle = own ? inkOf("position") : inkOf("markHalo");
          pen.strokeStyle = inkOf("markLine");
          pen.lineWidth = 1.2;
          pen.fill();
          pen.stroke();
        }
      }
      pen.beginPath();
      pen.roundRect(x - 4, y - 7, 8, 14, 4);
      pen.fillStyle = on ? inkOf("markHalo") : inkOf("position");
      pen.strokeStyle = on ? inkOf("position") : inkOf("markHalo");
      pen.lineWidth = on ? 3 : 1.5;
      pen.fill();
      pen.stroke();
    });
  }

  /** The way of a keyed anchor over the picture. */
  private anchor(layer: Layer, view: View) {
    const points = anchorPath(this.session, layer, this.session.frames.frame);
    if (!moves(points)) return;
    const { pen } = this;
    this.line(points, view);
    pen.setLineDash([5, 3]);
    this.twice(inkOf("markCoral"), 1.4);
    pen.setLineDash([]);
  }

  /** The boxes of the poses before and after, dashed, also where they stand outside the frame. */
  private ghostBoxes(layer: Layer, view: View) {
    const { pen, session } = this;
    for (const frame of ghostFrames(session, layer)) {
      const arrays = session.frames.layer(layer.id!, frame);
      if (!arrays) {
        session.frames.look(frame);
        continue;
      }
      const corners = cornersOf(arrays, frame);
      this.line([...corners, corners[0]], view);
      pen.setLineDash([4, 4]);
      this.twice(inkOf("markHalo"), 1);
      pen.setLineDash([]);
    }
  }

  /** Every layer as lines only. */
  private outlines(view: View, size: Point) {
    const { pen, session } = this;
    const { frames } = session;
    pen.fillStyle = inkOf("well");
    pen.fillRect(view.x, view.y, size[0] * view.scale, size[1] * view.scale);
    pen.strokeStyle = inkOf("edge");
    pen.strokeRect(view.x, view.y, size[0] * view.scale, size[1] * view.scale);
    pen.lineWidth = 1;
    for (const id of frames.order) {
      const arrays = frames.layer(id);
      if (!arrays || !row(arrays, arrays.visible, frames.frame)[0]) continue;
      const path = new Path2D();
      const { scale, x, y } = view;
      path.addPath(this.painter.outline(arrays, frames.frame), { a: scale, b: 0, c: 0, d: scale, e: x, f: y });
      pen.strokeStyle = inkOf(selection().selected.includes(id) ? "anchorInk" : "quiet");
      pen.stroke(path);
    }
  }

  /** A line for each pixel of the scene, where the picture is enlarged enough to see them. */
  private grid(view: View, [w, h]: Point) {
    const { pen } = this;
    const left = Math.max(Math.floor(-view.x / view.scale), 0);
    const right = Math.min(Math.ceil((pen.canvas.width / devicePixelRatio - view.x) / view.scale), w);
    const top = Math.max(Math.floor(-view.y / view.scale), 0);
    const bottom = Math.min(Math.ceil((pen.canvas.height / devicePixelRatio - view.y) / view.scale), h);
    pen.beginPath();
    for (let x = left; x <= right; x++) {
      pen.moveTo(...toScreen(view, [x, top]));
      pen.lineTo(...toScreen(view, [x, bottom]));
    }
    for (let y = top; y <= bottom; y++) {
      pen.moveTo(...toScreen(view, [left, y]));
      pen.lineTo(...toScreen(view, [right, y]));
    }
    pen.strokeStyle = inkOf("markLine");
    pen.globalAlpha = 0.16;
    pen.lineWidth = 1;
    pen.stroke();
    pen.globalAlpha = 1;
  }

  private lines(view: View, [w, h]: Point) {
    const { safe, thirds, centre, guides, rulers } = viewSettings();
    const rectangle = (share: number): Point[] => {
      const [x, y] = [(w * (1 - share)) / 2, (h * (1 - share)) / 2];
      return [
        [x, y],
        [w - x, y],
        [w - x, h - y],
        [x, h - y],
        [x, y],
      ];
    };
    if (safe)
      for (const share of Object.values(this.session.safe)) {
        this.line(rectangle(share), view);
        this.twice(inkOf("markHalo"), 1, 0.35);
      }
    const across: Point[][] = [];
    if (thirds)
      for (const k of [1 / 3, 2 / 3])
        across.push(
          [
            [w * k, 0],
            [w * k, h],
          ],
          [
            [0, h * k],
            [w, h * k],
          ],
        );
    if (centre)
      across.push(
        [
          [w / 2, 0],
          [w / 2, h],
        ],
        [
          [0, h / 2],
          [w, h / 2],
        ],
      );
    for (const points of across) {
      this.line(points, view);
      this.twice(inkOf("markHalo"), 1, 0.35);
    }
    if (!rulers) return;
    for (const axis of ["x", "y"] as const) for (const at of guides[axis]) this.through(view, axis, at);
  }

  private through(view: View, axis: "x" | "y", at: number) {
    const { pen } = this;
    const [x, y] = toScreen(view, [at, at]);
    pen.beginPath();
    pen.moveTo(axis === "x" ? x : 0, axis === "x" ? 0 : y);
    pen.lineTo(axis === "x" ? x : pen.canvas.width, axis === "x" ? pen.canvas.height : y);
    this.guide(1);
  }

  private snapLines(view: View, [w, h]: Point) {
    const { pen } = this;
    const { x, y } = lit.guides;
    for (const points of [
      x === undefined ? null : [[x, 0] as Point, [x, h] as Point],
      y === undefined ? null : [[0, y] as Point, [w, y] as Point],
    ]) {
      if (!points) continue;
      this.line(points, view);
      this.guide(1.4, [5, 3]);
    }
    pen.canvas.dataset.guides = [x, y].filter((n) => n !== undefined).join();
  }
}

/** The poses before and after the playhead. */
export function ghostFrames(session: Session, layer: Layer): number[] {
  const here = session.frames.frame;
  const frames = poseFrames(layer)
    .map((frame) => Math.round(frame))
    .filter((frame) => frame >= 0 && frame < session.frames.length);
  const before = frames.filter((frame) => frame < here);
  const after = frames.filter((frame) => frame > here);
  return [before.at(-1), after[0]].filter((frame) => frame !== undefined);
}
