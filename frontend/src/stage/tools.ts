import { row } from "../api/arrays";
import { isItem, layerIn, outOf } from "../document/items";
import {
  anchorAt,
  isThere,
  type Point,
  placeName,
  STATIONS,
  stationsOf,
  toScreen,
  type View,
} from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { sceneView } from "../state/sceneView";
import { selection } from "../state/selection";
import { viewSettings } from "../state/viewSettings";
import { inkOf } from "../theme/canvasColours";
import { drawCascade } from "./cascadeMarks";
import { drawEffects } from "./effectMarks";
import { drawGradient } from "./gradientMarks";
import { FRAMING, framingWords } from "./hands/content";
import { lit } from "./hands/gesture";
import { HANDLE, handleBox, handlesOf } from "./hitTest";
import { drawPath } from "./pathMarks";
import { drawWindows } from "./windowMarks";

const RING = 15;
const FINS = new Path2D("M7 -7L12 -12M7 7L12 12M-7 7L-12 12M-7 -7L-12 -12");
const LABEL = "650 11.5px 'Figtree Variable', sans-serif";
const NOTE = "600 12px 'Figtree Variable', sans-serif";

/** Draws what the hands can take, in stage pixels: boxes, handles, ring, stations, and the anchor's mark with its name. */
export class Tools {
  constructor(
    private readonly session: Session,
    private readonly pen: CanvasRenderingContext2D,
  ) {}

  draw(view: View, room: Point, beside: boolean) {
    const { selected } = selection();
    const locked = selected.some((id) => this.session.layer(id)?.locked);
    const { points, drawing, gradient } = selection();
    const pointwise = points !== null || drawing !== null || gradient !== null;
    const corners =
      selected.length && !locked && !pointwise && !selection().editing ? handleBox(this.session, selected, view) : null;
    const around = selected[0] && isItem(selected[0]) ? outOf(selected[0]) : "";
    if (around) this.around(around, view);
    if (corners && lit.ring) this.ring(corners);
    if (!pointwise) for (const id of selected) this.box(id, view);
    if (corners && selected.length > 1) this.common(corners);
    if (corners && !lit.anchor) this.handles(corners);
    if (lit.marquee) this.marquee(lit.marquee);
    if (lit.drawn) this.drawn(lit.drawn);
    drawWindows(this.session, this.pen, view);
    drawPath(this.session, this.pen, view);
    drawGradient(this.session, this.pen, view);
    drawCascade(this.session, this.pen, view);
    drawEffects(this.session, this.pen, view);
    const label = labelOf(this.session, view, room, beside);
    if (label && lit.anchor) this.stations(view);
    if (label) {
      this.mark(label.anchor);
      this.label(label);
    }
    const note = noteOf(this.session);
    if (note) this.note(note, room[0] / 2);
    this.pen.canvas.dataset.note = note;
    const litNames = [lit.ring && corners && "ring", lit.marquee && "marquee", lit.anchor && lit.station];
    this.pen.canvas.dataset.lit = litNames.filter(Boolean).join();
  }

  private polygon(corners: Point[]) {
    const { pen } = this;
    pen.beginPath();
    for (const [x, y] of corners) pen.lineTo(x, y);
    pen.closePath();
  }

  private stroke(ink: string, width: number, alpha = 1) {
    const { pen } = this;
    pen.strokeStyle = inkOf(ink);
    pen.lineWidth = width;
    pen.globalAlpha = alpha;
    pen.stroke();
    pen.globalAlpha = 1;
  }

  private dot([x, y]: Point, radius: number, width: number, alpha = 1) {
    const { pen } = this;
    pen.beginPath();
    pen.arc(x, y, radius, 0, 2 * Math.PI);
    pen.fillStyle = inkOf("markHalo");
    pen.globalAlpha = alpha;
    pen.fill();
    this.stroke("anchorInk", width);
  }

  /** A layer's box: dashed where the layer is not there at this frame. */
  private box(id: string, view: View) {
    const { pen, session } = this;
    const arrays = session.frames.layer(id);
    const corners = handleBox(session, [id], view);
    if (!arrays || !corners) return;
    this.polygon(corners);
    pen.lineJoin = "miter";
    pen.setLineDash(isThere(arrays, session.frames.frame) ? [] : [5, 4]);
    this.stroke("markHalo", 3, 0.85);
    this.stroke("anchorInk", 1.25);
    pen.setLineDash([]);
  }

  /** The box of the layer or group that the hands are in. */
  private around(id: string, view: View) {
    const corners = handleBox(this.session, [id], view);
    if (!corners) return;
    this.polygon(corners);
    this.pen.setLineDash([2, 4]);
    this.stroke("markHalo", 3, 0.7);
    this.stroke("act", 1.25);
    this.pen.setLineDash([]);
  }

  private common(corners: Point[]) {
    this.polygon(corners);
    this.pen.setLineDash([6, 3]);
    this.stroke("act", 1.5);
    this.pen.setLineDash([]);
  }

  private handles(corners: Point[]) {
    for (const [, at] of handlesOf(corners)) this.dot(at, 4.2, 1.6);
  }

  private stations(view: View) {
    const { frames } = this.session;
    const arrays = frames.layer(selection().selected[0])!;
    for (const [name, at] of Object.entries(stationsOf(arrays, frames.frame))) {
      const on = lit.station === name;
      this.dot(toScreen(view, at), on ? 19 : name in STATIONS ? 5 : 3, 1.5, on ? 0.55 : 1);
    }
  }

  /** A band around a box at a distance, round at its corners. */
  private ring(corners: Point[]) {
    const { pen } = this;
    const area = corners.reduce((sum, [ax, ay], i) => {
      const [bx, by] = corners[(i + 1) % 4];
      return sum + ax * by - bx * ay;
    }, 0);
    const way = area >= 0 ? 1 : -1;
    pen.beginPath();
    corners.forEach(([ax, ay], i) => {
      const [bx, by] = corners[(i + 1) % 4];
      const along = Math.atan2(by - ay, bx - ax) - (way * Math.PI) / 2;
      const [zx, zy] = corners[(i + 3) % 4];
      const before = Math.atan2(ay - zy, ax - zx) - (way * Math.PI) / 2;
      pen.arc(ax, ay, RING, before, along, way < 0);
    });
    pen.closePath();
    this.stroke("anchorInk", 9, 0.5);
  }

  private marquee([[ax, ay], [bx, by]]: [Point, Point]) {
    const { pen } = this;
    pen.beginPath();
    pen.rect(Math.min(ax, bx), Math.min(ay, by), Math.abs(ax - bx), Math.abs(ay - by));
    pen.fillStyle = inkOf("act");
    pen.globalAlpha = 0.12;
    pen.fill();
    pen.setLineDash([4, 3]);
    this.stroke("act", 1);
    pen.setLineDash([]);
  }

  /** The outline of what is drawn. */
  private drawn({ what, ends: [[ax, ay], [bx, by]] }: NonNullable<(typeof lit)["drawn"]>) {
    const { pen } = this;
    const [width, height] = [Math.abs(ax - bx), Math.abs(ay - by)];
    pen.beginPath();
    if (what === "ellipse") pen.ellipse((ax + bx) / 2, (ay + by) / 2, width / 2, height / 2, 0, 0, 2 * Math.PI);
    else if (what === "line" || what === "arrow") {
      pen.moveTo(ax, ay);
      pen.lineTo(bx, by);
    } else pen.rect(Math.min(ax, bx), Math.min(ay, by), width, height);
    this.stroke("paper", 3.5);
    this.stroke("act", 1.5);
  }

  /** A ring on four short fins, set diagonally, so that it is never taken for a box's handle. */
  private mark([x, y]: Point) {
    const { pen } = this;
    pen.save();
    pen.translate(x, y);
    const path = new Path2D(FINS);
    path.moveTo(9, 0);
    path.arc(0, 0, 9, 0, 2 * Math.PI);
    pen.lineCap = "round";
    for (const [ink, width] of [
      ["markHalo", 6.5],
      ["markLine", 4.4],
      ["markCoral", 2.6],
    ] as const) {
      pen.strokeStyle = inkOf(ink);
      pen.lineWidth = width;
      pen.stroke(path);
    }
    for (const [ink, radius] of [
      ["markLine", 4.1],
      ["markHalo", 3.1],
      ["markCoral", 2],
    ] as const) {
      pen.beginPath();
      pen.arc(0, 0, radius, 0, 2 * Math.PI);
      pen.fillStyle = inkOf(ink);
      pen.fill();
    }
    pen.restore();
  }

  /** What a gesture is doing, in words over the stage. */
  private note(words: string, middle: number) {
    const { pen } = this;
    const y = sceneView().solo.length ? 54 : 26;
    const width = widthOf(words, NOTE) + 24;
    pen.beginPath();
    pen.roundRect(middle - width / 2, y, width, 22, 11);
    pen.fillStyle = inkOf("ink");
    pen.fill();
    pen.fillStyle = inkOf("paper");
    pen.font = NOTE;
    pen.fillText(words, middle - width / 2 + 12, y + 15);
  }

  private label({ words, at: [x, y], width }: Label) {
    const { pen } = this;
    pen.beginPath();
    pen.roundRect(x, y, width, 20, 10);
    pen.fillStyle = inkOf("well");
    pen.fill();
    this.stroke("edge", 1);
    pen.fillStyle = inkOf("ink");
    pen.font = LABEL;
    pen.fillText(words, x + 9, y + 14);
  }
}

/** What holds the pointer, or by how much a layer is turned. */
function noteOf(session: Session): string {
  if (selection().drawing && !lit.note)
    return "Click for corners, drag for curves. The first point closes the path; Enter or Esc ends it.";
  if (lit.note === FRAMING) return framingWords(session, layerIn(selection().selected[0]));
  if (lit.note !== "turn") return lit.note;
  const arrays = session.frames.layer(selection().selected[0]);
  const degrees = arrays ? row(arrays, arrays.values.rotation, session.frames.frame)[0] : 0;
  const turns = Math.trunc(degrees / 360);
  const rest = Math.round((degrees - turns * 360) * 10) / 10;
  const angle = `Rotation ${Math.round(degrees * 10) / 10}°`;
  return turns ? `${angle}: ${turns} ${Math.abs(turns) === 1 ? "turn" : "turns"} and ${rest}°` : angle;
}

export interface Label {
  words: string;
  /** The anchor in stage pixels, and in the scene. */
  anchor: Point;
  scene: Point;
  /** Top left corner of the label; it stands below the mark where there is room, and there with `beside` under it. */
  at: Point;
  below: boolean;
  width: number;
}

/** The name of the anchor's place, and where it stands beside the mark; null where no mark is drawn. */
export function labelOf(session: Session, view: View, room: Point, beside: boolean): Label | null {
  const { selected } = selection();
  const { frames } = session;
  const { editing, points, drawing, gradient } = selection();
  const pointwise = points !== null || drawing !== null || gradient !== null;
  const marked = selected.length === 1 && viewSettings().mark && !editing && !pointwise;
  const arrays = marked ? frames.layer(selected[0]) : undefined;
  if (!arrays) return null;
  const scene = anchorAt(arrays, frames.frame);
  const anchor = toScreen(view, scene);
  const [fx, fy] = row(arrays, arrays.fraction, frames.frame);
  // Which anchor the hand has is plain: a shape's says whose it is.
  const whose = isItem(selected[0]) ? `${session.layer(selected[0])?.name}: ` : "";
  const words = `${whose}${placeName(fx, fy)} · ${tidy(scene[0])}, ${tidy(scene[1])} px`;
  const width = widthOf(words, LABEL) + 18;
  const below = anchor[1] + (beside ? 76 : 52) <= room[1];
  const at: Point = [
    Math.min(Math.max(anchor[0] - 12, 4), room[0] - width - 4),
    below ? anchor[1] + 28 : anchor[1] - 48,
  ];
  return { words, anchor, scene, at, below, width };
}

/** Width and height of the choice that stands beside the mark. */
const CHOICE: Point = [206, 21];

/** Where the choice stands: as near the label as it can without lying over a handle of the box. */
export function choicePlace({ anchor, at, below }: Label, corners: Point[] | null, room: Point): Point {
  const [wide, tall] = CHOICE;
  const handles = corners ? handlesOf(corners) : [];
  const far = (corners ?? [anchor]).map(([, y]) => y);
  const rows = below ? [at[1] + 23, anchor[1] - 28 - tall] : [at[1] - 25, anchor[1] + 28];
  const places = [...rows, Math.max(...far) + 36, Math.min(...far) - 36 - tall].flatMap((y): Point[] =>
    [at[0], anchor[0] + 12 - wide].map((x) => [Math.min(Math.max(x, 4), room[0] - wide), y]),
  );
  const free = places.find(
    ([x, y]) =>
      y >= 0 &&
      y + tall <= room[1] &&
      handles.every(
        ([, [hx, hy]]) => hx < x - HANDLE || hx > x + wide + HANDLE || hy < y - HANDLE || hy > y + tall + HANDLE,
      ),
  );
  return free ?? places[0];
}

const measure = document.createElement("canvas").getContext("2d")!;

/** The width of words, measured without a layout. */
function widthOf(words: string, font: string): number {
  measure.font = font;
  return measure.measureText(words).width;
}

const tidy = (n: number) => String(Math.round(n * 10) / 10);
