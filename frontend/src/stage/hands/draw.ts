import type { Edit } from "../../api/client";
import { freshId } from "../../api/token";
import { isMask, outOf } from "../../document/items";
import { type Point, toScene, type View } from "../../geometry/layerGeometry";
import { SHAPES } from "../../kinds/shapes";
import { typeInto } from "../../parts/typeAhead";
import { readableContent } from "../../session/readable";
import type { Session } from "../../session/session";
import { DRAWN_WORDS, type Drawn, drawing, drawNext, typedSize, useDrawing } from "../../state/drawing";
import { sayProblem } from "../../state/page";
import { select, selection, setSelection } from "../../state/selection";
import { darken, type Gesture, type Keys, lit, tidied } from "./gesture";
import { type Magnets, magnetic, magnetsOf, pulled } from "./magnets";

/** From a point to a point of the scene, as a hand drew it. */
type Ends = [Point, Point];

const boxOf = ([[ax, ay], [bx, by]]: Ends) => [
  Math.min(ax, bx),
  Math.min(ay, by),
  Math.abs(bx - ax),
  Math.abs(by - ay),
];
const round = (n: number) => Math.round(n * 10) / 10;

/** The layer, or the mask, that is drawn between two points; null where it can be none. */
async function made(session: Session, draws: Drawn, ends: Ends): Promise<{ edit: Edit; id: string } | null> {
  const [left, top, width, height] = boxOf(ends);
  const { frame } = session.frames;
  if (draws === "mask") {
    const [chosen] = selection().selected;
    const layer = chosen && isMask(chosen) ? outOf(chosen) : chosen;
    if (!layer || selection().selected.length !== 1) {
      sayProblem(new Error("A mask is drawn on a layer: select one first."));
      return null;
    }
    return { edit: { edit: "add_mask", layer, frame, shape: "rectangle", drawn: ends } as unknown as Edit, id: layer };
  }
  const id = freshId();
  const middle: Point = [round(left + width / 2), round(top + height / 2)];
  const base = {
    edit: "add_layer" as const,
    id,
    position: middle,
    name: draws === "text" ? undefined : DRAWN_WORDS[draws],
  };
  const content = contentOf(draws, ends);
  const seen = await readableContent(session, content, [left, top, width, height]);
  return { edit: { ...base, content: seen } as unknown as Edit, id };
}

function contentOf(draws: Drawn, ends: Ends): object {
  const [left, top, width, height] = boxOf(ends);
  if (draws === "text") {
    const size = Math.min(Math.max(Math.round(height * 0.7), 8), 400);
    return {
      kind: "text",
      text: "New text",
      size: { rest: size },
      block: { width: { rest: round(Math.max(width, 1)) } },
    };
  }
  const kind = SHAPES.find(({ shape, is }) => shape === draws && !is) ?? SHAPES.find(({ shape }) => shape === draws)!;
  const first = kind.makes!(Math.max(height, 8));
  if (draws === "line" || draws === "arrow") {
    const [mx, my] = [left + width / 2, top + height / 2];
    const [start, end] = ends.map(([x, y]) => [round(x - mx), round(y - my)]);
    return { kind: "shape", items: [{ shape: draws, ...first, start, end }] };
  }
  return {
    kind: "shape",
    items: [{ shape: draws, ...first, size: [round(Math.max(width, 1)), round(Math.max(height, 1))] }],
  };
}

/** Keep what was drawn, and go back to selecting. */
export async function keepDrawn(session: Session, draws: Drawn, ends: Ends) {
  drawNext(null);
  const what = made(session, draws, ends);
  const kept = what.then((found) => found !== null && session.edit(found.edit));
  if (draws === "text") void typeInto({ field: "[data-testid=text-in-place]", comes: kept });
  if (!(await kept)) return;
  const { id } = (await what)!;
  select(id);
  if (draws === "text") setSelection({ editing: id });
}

/** A size in the middle of a place, as it was typed or by a click. */
export function drawnAbout([x, y]: Point, [width, height]: Point, draws: Drawn): Ends {
  if (draws === "line" || draws === "arrow")
    return [
      [x - width / 2, y],
      [x + width / 2, y],
    ];
  return [
    [x - width / 2, y - height / 2],
    [x + width / 2, y + height / 2],
  ];
}

/**
 * Draw a shape, a text box or a mask: from corner to corner, with Alt from the middle, with Shift as high as wide (a line
 * in steps of 15°); what is typed meanwhile is its size.
 */
export class DrawDrag implements Gesture {
  private readonly from: Point;
  private readonly magnets: Magnets;
  private readonly draws = drawing().draws!;
  private ends: Ends | null = null;
  private last: [Point, Keys] | null = null;
  private readonly deaf = useDrawing.subscribe(() => this.last && this.move(...this.last));

  constructor(
    private readonly session: Session,
    private readonly view: View,
    start: Point,
  ) {
    this.magnets = magnetsOf(session, session.frames.frame, []);
    this.from = this.placed(start, { free: false, straight: false, alt: false });
    useDrawing.setState({ under: true });
  }

  private placed(screen: Point, keys: Keys): Point {
    darken();
    const at = tidied(toScene(this.view, screen), this.view.scale);
    return magnetic(keys) ? pulled(at, this.magnets, this.view.scale) : at;
  }

  move(screen: Point, keys: Keys) {
    this.last = [screen, keys];
    const to = this.placed(screen, keys);
    let [dx, dy] = [to[0] - this.from[0], to[1] - this.from[1]];
    const size = typedSize(drawing().typed);
    const line = this.draws === "line" || this.draws === "arrow";
    if (line && keys.straight) {
      const angle = Math.round(Math.atan2(dy, dx) / (Math.PI / 12)) * (Math.PI / 12);
      const far = Math.hypot(dx, dy);
      [dx, dy] = [far * Math.cos(angle), far * Math.sin(angle)];
    } else if (keys.straight) {
      const side = Math.max(Math.abs(dx), Math.abs(dy));
      [dx, dy] = [dx < 0 ? -side : side, dy < 0 ? -side : side];
    }
    if (size) [dx, dy] = [dx < 0 ? -size[0] : size[0], dy < 0 ? -size[1] : size[1]];
    const [x, y] = this.from;
    this.ends = keys.alt
      ? [
          [x - dx, y - dy],
          [x + dx, y + dy],
        ]
      : [
          [x, y],
          [x + dx, y + dy],
        ];
    const [, , width, height] = boxOf(this.ends).map(round);
    lit.note = line
      ? `${round(Math.hypot(width, height))} px · ${round((Math.atan2(dy, dx) * 180) / Math.PI)}°`
      : `${width} × ${height} px`;
    const { scale, x: left, y: top } = this.view;
    lit.drawn = {
      what: this.draws,
      ends: this.ends.map(([px, py]): Point => [px * scale + left, py * scale + top]) as Ends,
    };
    this.session.frames.touch();
  }

  end() {
    this.deaf();
    darken();
    this.session.frames.touch();
    if (this.ends) void keepDrawn(this.session, this.draws, this.ends);
  }

  cancel() {
    this.deaf();
    darken();
    drawNext(null);
    this.session.frames.touch();
  }
}
