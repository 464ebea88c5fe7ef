import type { Edit } from "../../api/client";
import { freshId } from "../../api/token";
import { addressAt, isMask, itemsOf } from "../../document/items";
import { distance, type Point, toScene, toScreen, type View } from "../../geometry/layerGeometry";
import { pathIn, stopDrawing, strokes } from "../../session/drawnPath";
import type { Session } from "../../session/session";
import { select, selection } from "../../state/selection";
import { darken, type Gesture, type Keys, lit, tidied } from "./gesture";
import { startOf } from "./points";

/** How near to the first point a press closes the path, in pixels. */
const CLOSES = 9;
const INK = "#1b2628ff";
const FILL = "#0e6b61ff";

/** A press while a path is drawn: a corner where it is let go at once, a smooth point where it was drawn out. */
export class PenStroke implements Gesture {
  private handle: Point | null = null;
  private readonly at: Point;
  private readonly drawing = selection().drawing!;
  private readonly chosen = selection().selected;

  constructor(
    private readonly session: Session,
    private readonly view: View,
    private readonly start: Point,
  ) {
    this.at = tidied(toScene(view, start), view.scale);
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = tidied(toScene(this.view, screen), this.view.scale);
    this.handle = [x - this.at[0], y - this.at[1]];
    if (keys.straight) this.handle[Math.abs(this.handle[0]) < Math.abs(this.handle[1]) ? 0 : 1] = 0;
    const { layer } = this.drawing;
    lit.pen = { at: this.at, handle: this.handle };
    if (layer && !this.closes()) this.session.try([this.extend(layer)]);
    else this.session.frames.touch();
  }

  end() {
    darken();
    // Each reads the path as the one before it has left it.
    strokes.kept = strokes.kept.then(() => this.keep());
  }

  cancel() {
    darken();
    this.session.cancel();
    this.session.frames.touch();
  }

  private closes(): boolean {
    const first = startOf(this.session, this.drawing);
    return first !== undefined && distance(toScreen(this.view, first.at), this.start) <= CLOSES;
  }

  private extend(layer: string): Edit {
    const { frame } = this.session.frames;
    return { edit: "extend_path", layer, frame, to: this.at, handle: this.handle };
  }

  private async keep() {
    const { session, drawing } = this;
    const { layer } = drawing;
    if (!layer) await this.begin();
    else if (this.closes()) {
      const fill = { edit: "set_content", layer, path: "items.0.fill", value: FILL } as unknown as Edit;
      const bare = isMask(layer) || pathIn(session.layer(layer))?.fill;
      const close: Edit = { edit: "close_path", layer, frame: session.frames.frame, closed: true };
      if (selection().drawing === drawing) stopDrawing();
      await session.edit(close, ...(bare ? [] : [fill]));
    } else await session.edit(this.extend(layer));
    session.frames.touch();
  }

  /** The first point: a new layer, or a shape into the one that the hands are in. */
  private async begin() {
    const { session, drawing } = this;
    const { into } = drawing;
    const [dx, dy] = this.handle ?? [0, 0];
    const points = [[0, 0, -dx, -dy, dx, dy]];
    const item = { shape: "path", contours: [{ count: 1 }], points, stroke: { colour: INK, width: 6 } };
    const content = { kind: "shape", items: [item] };
    const id = freshId();
    const edit = { edit: "add_layer", id, content, name: "Path", position: this.at, into: into || null };
    if (!(await session.edit(edit as unknown as Edit))) return;
    const there = into ? session.layer(into) : undefined;
    drawing.layer = there ? addressAt(there, itemsOf(there).length - 1) : id;
    // Whoever has ended the drawing and taken something else meanwhile keeps it.
    if (selection().drawing === drawing || selection().selected === this.chosen) select(drawing.layer);
  }
}
