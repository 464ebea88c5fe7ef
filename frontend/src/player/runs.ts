import type { LayerArrays } from "../api/arrays";
import type { Painter } from "../paint/painter";

/** Whole pixels of the canvas. */
export type Box = readonly [left: number, top: number, right: number, bottom: number];

/** What is known of the layers of a scene, by their places in it. */
export interface Facts {
  layers: LayerArrays[];
  background: string;
  /** Whether it looks the same in two frames. */
  alike: (index: number, one: number, other: number) => boolean;
  /** A number that is the same for frames in a row in which it looks the same. */
  look: (index: number, frame: number) => number;
  /** Beyond which nothing of it is painted; null where it is made of all that lies below it. */
  reach: (index: number, frame: number) => Box | null;
}

/** Layers beside one another that stay as they are for a while, or one that does not. */
interface Run {
  from: number;
  to: number;
  still: boolean;
  key: string;
}

/** Canvases of layers that stay which are kept. */
const MOST = 4;
/** Frames that playing may leave out, and still be playing. */
const NEAR = 3;

/**
 * Paints a frame after another with as little as must be: what moves, and from canvases that are kept what stays. What is
 * cut by the edge of a clip is not rasterised as it is whole, so that only what moves is painted, and all of it.
 */
export class Runs {
  private keys = "";
  private readonly kept = new Map<string, HTMLCanvasElement>();

  constructor(
    private readonly painter: Painter,
    private readonly facts: Facts,
  ) {}

  /** Paint a frame over the one before; false where the whole of it is to be painted. */
  paint(context: CanvasRenderingContext2D, before: number, frame: number, next: number): boolean {
    if (before < 0 || Math.abs(frame - before) > NEAR) return false;
    const { facts } = this;
    const moving = facts.layers.map(
      (_, index) => !facts.alike(index, before, frame) || !facts.alike(index, frame, next),
    );
    const runs = this.runs(moving, frame);
    if (!runs) return false;
    const keys = runs.map(({ key }) => key).join("|");
    const known = keys === this.keys;
    this.keys = keys;
    // What stays is kept once it has stayed: painting it for itself takes as long as painting the whole.
    if (!known) return false;
    const stale = this.stale(moving, before, frame);
    const [left, top, right, bottom] = stale;
    if (right <= left || bottom <= top) return true;
    context.save();
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.beginPath();
    context.rect(left, top, right - left, bottom - top);
    context.clip();
    if (!runs[0]?.still) this.painter.paint(context, facts.background, [], frame);
    for (const run of runs) {
      if (run.still) this.lay(context, run, stale, frame);
      else if (meets(facts.reach(run.from, frame)!, stale)) this.painter.ghost(context, facts.layers[run.from], frame);
    }
    context.restore();
    return true;
  }

  /** Whether nothing is another in a frame than in the one that is painted. */
  alike(painted: number, frame: number): boolean {
    return painted >= 0 && this.facts.layers.every((_, index) => this.facts.alike(index, painted, frame));
  }

  /** The layers in runs; null where some of them are made of what lies below. */
  private runs(moving: boolean[], frame: number): Run[] | null {
    const { facts } = this;
    const found: Run[] = [];
    for (let index = 0; index < facts.layers.length; index++) {
      if (facts.reach(index, frame) === null) return null;
      // One that blends with what lies below it can be kept with all of that alone.
      const below = found.length === 0 || (found.length === 1 && found[0].still);
      const still = !moving[index] && (below || facts.layers[index].group.blend === "normal");
      const last = found.at(-1);
      if (still && last?.still) {
        last.to = index + 1;
        last.key += ` ${facts.look(index, frame)}`;
      } else
        found.push({ from: index, to: index + 1, still, key: still ? `${index} ${facts.look(index, frame)}` : "" });
    }
    return found;
  }

  /** What is another in a frame than in the one before, and all of what moves that lies there. */
  private stale(moving: boolean[], before: number, frame: number): Box {
    const { facts } = this;
    let box: Box = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, 0, 0];
    const boxes = moving.map((moves, index) =>
      moves ? around(facts.reach(index, before)!, facts.reach(index, frame)!) : null,
    );
    const rest = new Set<number>();
    boxes.forEach((one, index) => {
      if (!one) return;
      if (facts.alike(index, before, frame)) rest.add(index);
      else box = around(box, one);
    });
    for (let grown = true; grown; ) {
      grown = false;
      for (const index of rest)
        if (meets(boxes[index]!, box)) {
          box = around(box, boxes[index]!);
          rest.delete(index);
          grown = true;
        }
    }
    return [Math.max(box[0], 0), Math.max(box[1], 0), box[2], box[3]];
  }

  /** Lay what stays on as it was kept; the first run with the ground under it. */
  private lay(context: CanvasRenderingContext2D, run: Run, [left, top, right, bottom]: Box, frame: number) {
    const canvas = this.canvas(context.canvas, run, frame);
    const [x, y] = [left, top];
    const [width, height] = [Math.min(right, canvas.width) - x, Math.min(bottom, canvas.height) - y];
    if (width <= 0 || height <= 0) return;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.globalAlpha = 1;
    context.globalCompositeOperation = run.from === 0 ? "copy" : "source-over";
    context.drawImage(canvas, x, y, width, height, x, y, width, height);
    context.globalCompositeOperation = "source-over";
  }

  private canvas(size: HTMLCanvasElement, run: Run, frame: number): HTMLCanvasElement {
    const found = this.kept.get(run.key);
    if (found) return found;
    const [oldest] = this.kept.keys();
    const spare = this.kept.size >= MOST ? this.kept.get(oldest) : undefined;
    if (spare) this.kept.delete(oldest);
    const canvas = spare ?? document.createElement("canvas");
    if (canvas.width !== size.width || canvas.height !== size.height)
      Object.assign(canvas, { width: size.width, height: size.height });
    const context = canvas.getContext("2d", { willReadFrequently: true })!;
    const ground = run.from === 0 ? this.facts.background : "#00000000";
    this.painter.paint(context, ground, this.facts.layers.slice(run.from, run.to), frame);
    this.kept.set(run.key, canvas);
    return canvas;
  }
}

const empty = ([left, top, right, bottom]: Box) => right <= left || bottom <= top;

const around = (one: Box, other: Box): Box =>
  empty(one)
    ? other
    : empty(other)
      ? one
      : [
          Math.min(one[0], other[0]),
          Math.min(one[1], other[1]),
          Math.max(one[2], other[2]),
          Math.max(one[3], other[3]),
        ];

const meets = (one: Box, other: Box) =>
  !empty(one) && !empty(other) && one[0] < other[2] && one[2] > other[0] && one[1] < other[3] && one[3] > other[1];
