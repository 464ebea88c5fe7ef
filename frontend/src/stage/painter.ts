import type { LayerArrays, Operation, Outline } from "../api/arrays";
import { row } from "../api/arrays";

const HEX = Array.from({ length: 256 }, (_, i) => i.toString(16).padStart(2, "0"));

/** How long a picture that could not be fetched is left alone, in milliseconds. */
const AGAIN = 4_000;

/** Pictures by asset, decoded as both painters read them: no colour conversion, sRGB numbers as stored. */
export class Pictures {
  private readonly found = new Map<string, ImageBitmap | "coming" | "failed">();

  constructor(private readonly arrived: () => void) {}

  get(asset: string): ImageBitmap | null {
    if (!this.found.has(asset)) void this.fetch(asset);
    const found = this.found.get(asset);
    return found instanceof ImageBitmap ? found : null;
  }

  private async fetch(asset: string) {
    this.found.set(asset, "coming");
    try {
      const response = await fetch(`/api/pictures/${asset}/file`);
      if (!response.ok) throw new Error(`picture: ${response.status}`);
      this.found.set(asset, await createImageBitmap(await response.blob(), { colorSpaceConversion: "none" }));
    } catch {
      this.found.set(asset, "failed");
      setTimeout(() => {
        this.found.delete(asset);
        this.arrived();
      }, AGAIN);
    }
    this.arrived();
  }

  get waiting() {
    return [...this.found.values()].includes("coming");
  }
}

/** A canvas that keeps some layers painted as long as they are the same. */
class Sheet {
  private canvas: HTMLCanvasElement | null = null;
  private layers: LayerArrays[] = [];
  private told = "";

  on(
    { width, height }: HTMLCanvasElement,
    layers: LayerArrays[],
    facts: unknown[],
    paint: (context: CanvasRenderingContext2D) => void,
  ): HTMLCanvasElement {
    const told = [width, height, ...facts].join();
    const same = this.told === told && layers.length === this.layers.length;
    if (this.canvas && same && layers.every((layer, i) => layer === this.layers[i])) return this.canvas;
    this.canvas ??= document.createElement("canvas");
    if (this.canvas.width !== width || this.canvas.height !== height) Object.assign(this.canvas, { width, height });
    paint(this.canvas.getContext("2d", { willReadFrequently: true })!);
    [this.layers, this.told] = [layers, told];
    return this.canvas;
  }
}

type Matrix = [number, number, number, number, number, number];

/** The stage's painter: draw lists on Canvas 2D, operation for operation as the exporter paints them. */
export class Painter {
  private readonly glyphs = new Map<string, Path2D>();
  private readonly texts = new WeakMap<Operation, Path2D>();
  private readonly spare: HTMLCanvasElement[] = [];
  private readonly shapes = new WeakMap<Operation, Path2D>();
  private readonly below = new Sheet();
  private readonly above = new Sheet();
  private place: Matrix;

  /** `scale` takes scene pixels to those of the canvas. */
  constructor(
    private readonly pictures: Pictures,
    private readonly outlines: Map<string, Outline>,
    private readonly scale = 1,
  ) {
    this.place = [scale, 0, 0, scale, 0, 0];
  }

  /**
   * Paint a frame. Where only layers from…to (by place) are being changed, what lies below them is kept and laid in
   * again; on a smaller scale what lies above them too, where it is blended plainly: laid on as one it may be off by the
   * rounding of a byte, which the picture of the scene's own size must not be.
   */
  paint(
    context: CanvasRenderingContext2D,
    background: string,
    layers: LayerArrays[],
    frame: number,
    tried: [number, number] | null = null,
  ) {
    if (!tried) {
      this.ground(context, background);
      for (const layer of layers) this.layer(context, layer, frame);
      return;
    }
    const [from, to] = tried;
    const under = layers.slice(0, from);
    const below = this.below.on(context.canvas, under, [frame, background], (sheet) => {
      this.ground(sheet, background);
      for (const layer of under) this.layer(sheet, layer, frame);
    });
    this.lay(context, below, "copy");
    for (const layer of layers.slice(from, to + 1)) this.layer(context, layer, frame);
    const over = layers.slice(to + 1);
    if (this.scale < 1 && over.every((layer) => layer.ops[0].op === "push" && layer.ops[0].blend === "normal")) {
      const above = this.above.on(context.canvas, over, [frame], (sheet) => {
        this.clear(sheet);
        for (const layer of over) this.layer(sheet, layer, frame);
      });
      this.lay(context, above, "source-over");
    } else for (const layer of over) this.layer(context, layer, frame);
  }

  /** A layer alone, on nothing; `place` takes scene pixels to the canvas in place of the painter's scale. */
  ghost(context: CanvasRenderingContext2D, layer: LayerArrays, frame: number, place = this.place) {
    const usual = this.place;
    this.place = place;
    this.layer(context, layer, frame);
    this.place = usual;
  }

  clear(context: CanvasRenderingContext2D) {
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.globalAlpha = 1;
    context.globalCompositeOperation = "source-over";
    context.clearRect(0, 0, context.canvas.width, context.canvas.height);
  }

  private ground(context: CanvasRenderingContext2D, background: string) {
    this.clear(context);
    context.fillStyle = background;
    context.fillRect(0, 0, context.canvas.width, context.canvas.height);
  }

  private lay(context: CanvasRenderingContext2D, canvas: HTMLCanvasElement, how: GlobalCompositeOperation) {
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.globalAlpha = 1;
    context.globalCompositeOperation = how;
    context.drawImage(canvas, 0, 0);
    context.globalCompositeOperation = "source-over";
  }

  /** The outlines of all that a layer paints, in content pixels. */
  outline(layer: LayerArrays, frame: number): Path2D {
    const whole = new Path2D();
    for (const operation of layer.ops) {
      if (operation.op === "glyphs") whole.addPath(this.text(layer, operation, frame));
      else if (operation.op !== "push" && operation.op !== "pop") whole.addPath(shapeOf(layer, operation, frame));
    }
    return whole;
  }

  private layer(context: CanvasRenderingContext2D, layer: LayerArrays, frame: number) {
    const push = layer.ops[0];
    if (push.op !== "push" || !row(layer, push.visible, frame)[0]) return;
    const [a, b, c, d, e, f] = row(layer, push.matrix, frame);
    const opacity = row(layer, push.opacity, frame)[0];
    if (opacity === 0) return;
    const apart = push.grouped && (opacity < 255 || push.blend !== "normal");
    const blend = push.blend === "normal" ? "source-over" : push.blend === "plus-lighter" ? "lighter" : push.blend;
    const target = apart ? this.group(context) : context;
    target.setTransform(...this.place);
    target.transform(a, b, c, d, e, f);
    target.globalCompositeOperation = (apart ? "source-over" : blend) as GlobalCompositeOperation;
    for (const operation of layer.ops) this.operation(target, layer, operation, frame);
    if (apart) {
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.globalAlpha = opacity / 255;
      context.globalCompositeOperation = blend as GlobalCompositeOperation;
      context.drawImage(target.canvas, 0, 0);
      context.globalAlpha = 1;
      this.spare.push(target.canvas);
    }
  }

  private group(context: CanvasRenderingContext2D): CanvasRenderingContext2D {
    const canvas = this.spare.pop() ?? document.createElement("canvas");
    const { width, height } = context.canvas;
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    const group = canvas.getContext("2d", { willReadFrequently: true })!;
    group.setTransform(1, 0, 0, 1, 0, 0);
    group.clearRect(0, 0, width, height);
    return group;
  }

  private operation(context: CanvasRenderingContext2D, layer: LayerArrays, operation: Operation, frame: number) {
    if (operation.op === "rectangle" || operation.op === "ellipse") {
      this.fillAndStroke(context, this.shape(layer, operation, frame), layer, operation, frame);
    } else if (operation.op === "glyphs") {
      context.fillStyle = colour(row(layer, operation.fill, frame));
      context.fill(this.text(layer, operation, frame));
    } else if (operation.op === "picture") {
      const bitmap = this.pictures.get(operation.asset);
      if (!bitmap) return;
      const [x, y, width, height] = row(layer, operation.box, frame);
      context.imageSmoothingEnabled = true;
      context.imageSmoothingQuality = "low";
      context.globalAlpha = row(layer, operation.opacity, frame)[0] / 255;
      context.drawImage(bitmap, x, y, width, height);
      context.globalAlpha = 1;
    }
  }

  /** The outline of a shape; one whose size is not in motion is built once. */
  private shape(layer: LayerArrays, operation: Extract<Operation, { box: number }>, frame: number): Path2D {
    const kept = this.shapes.get(operation);
    if (kept) return kept;
    const path = shapeOf(layer, operation, frame);
    const columns = operation.op === "rectangle" ? [operation.box, operation.corners] : [operation.box];
    if (columns.every((column) => layer.columns[column].rows === 1)) this.shapes.set(operation, path);
    return path;
  }

  private fillAndStroke(
    context: CanvasRenderingContext2D,
    path: Path2D,
    layer: LayerArrays,
    operation: Extract<Operation, { stroke: number | null }>,
    frame: number,
  ) {
    if (operation.fill !== null) {
      context.fillStyle = colour(row(layer, operation.fill, frame));
      context.fill(path);
    }
    if (operation.stroke !== null && operation.stroke_width !== null) {
      const width = row(layer, operation.stroke_width, frame)[0];
      if (width <= 0) return;
      context.strokeStyle = colour(row(layer, operation.stroke, frame));
      context.lineWidth = width;
      context.miterLimit = 10;
      context.stroke(path);
    }
  }

  private text(layer: LayerArrays, operation: Extract<Operation, { op: "glyphs" }>, frame: number): Path2D {
    const still = layer.columns[operation.places].rows === 1 && layer.columns[operation.scale].rows === 1;
    const kept = still ? this.texts.get(operation) : undefined;
    if (kept) return kept;
    const places = row(layer, operation.places, frame);
    const scales = row(layer, operation.scale, frame);
    const whole = new Path2D();
    operation.names.forEach((name, i) => {
      const scale = scales[i];
      whole.addPath(this.glyph(name), { a: scale, b: 0, c: 0, d: scale, e: places[2 * i], f: places[2 * i + 1] });
    });
    if (still) this.texts.set(operation, whole);
    return whole;
  }

  private glyph(name: string): Path2D {
    const kept = this.glyphs.get(name);
    if (kept) return kept;
    const path = new Path2D();
    const outline = this.outlines.get(name);
    if (!outline) return path;
    const n = outline.numbers;
    let i = 0;
    for (const verb of outline.verbs) {
      if (verb === "M") path.moveTo(n[i++], n[i++]);
      else if (verb === "L") path.lineTo(n[i++], n[i++]);
      else if (verb === "Q") path.quadraticCurveTo(n[i++], n[i++], n[i++], n[i++]);
      else if (verb === "C") path.bezierCurveTo(n[i++], n[i++], n[i++], n[i++], n[i++], n[i++]);
      else path.closePath();
    }
    this.glyphs.set(name, path);
    return path;
  }
}

/** The outline of a rectangle, an ellipse or a picture. */
function shapeOf(
  layer: LayerArrays,
  operation: Extract<Operation, { op: "rectangle" | "ellipse" | "picture" }>,
  frame: number,
): Path2D {
  const [x, y, width, height] = row(layer, operation.box, frame);
  if (operation.op === "picture") return rounded(x, y, width, height, 0, 0);
  if (operation.op === "ellipse") return rounded(x, y, width, height, width / 2, height / 2);
  const radius = row(layer, operation.corners, frame)[0];
  return rounded(x, y, width, height, radius, radius);
}

const colour = ([r, g, b, a]: Float32Array) => `#${HEX[r]}${HEX[g]}${HEX[b]}${HEX[a]}`;

/** The handle of a cubic quarter circle: 4/3 (√2 - 1). */
const ARC = 0.5522847498307936;

/** A rectangle with corners as cubic quarter arcs, call for call as the exporter builds it. */
function rounded(x: number, y: number, width: number, height: number, rx: number, ry: number): Path2D {
  const path = new Path2D();
  const right = x + width;
  const bottom = y + height;
  if (rx <= 0 || ry <= 0) {
    path.moveTo(x, y);
    path.lineTo(right, y);
    path.lineTo(right, bottom);
    path.lineTo(x, bottom);
    path.closePath();
    return path;
  }
  const kx = rx * (1 - ARC);
  const ky = ry * (1 - ARC);
  path.moveTo(x + rx, y);
  path.lineTo(right - rx, y);
  path.bezierCurveTo(right - kx, y, right, y + ky, right, y + ry);
  path.lineTo(right, bottom - ry);
  path.bezierCurveTo(right, bottom - ky, right - kx, bottom, right - rx, bottom);
  path.lineTo(x + rx, bottom);
  path.bezierCurveTo(x + kx, bottom, x, bottom - ky, x, bottom - ry);
  path.lineTo(x, y + ry);
  path.bezierCurveTo(x, y + ky, x + kx, y, x + rx, y);
  path.closePath();
  return path;
}
