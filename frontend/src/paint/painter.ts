import type {
  Effects,
  GlyphsOperation,
  GradientPaint,
  Group,
  ImageOperation,
  LayerArrays,
  MaskPath,
  Matte,
  Operation,
  Outline,
  Paint,
  PathOperation,
} from "../api/arrays";
import { row } from "../api/arrays";
import { copies, REACH, SMALL_BLUR } from "./copies";
import { PAINTERS } from "./effects";
import { brightness } from "./filters";
import { KeptSheets } from "./keptSheets";
import { built } from "./outline";
import { fine, projected } from "./perspective";
import { MANY_LETTERS, RestingLetters } from "./restingLetters";
import { Sheets, type Size } from "./sheets";
import type { PictureSource } from "./sources";

const HEX = Array.from({ length: 256 }, (_, i) => i.toString(16).padStart(2, "0"));

/** Until the exact frame of a clip is here, one of this part of its size is shown at rest. */
const REST_SIZE = 0.5;

/** A canvas that keeps some layers painted as long as they are the same. */
class Sheet {
  private canvas: HTMLCanvasElement | null = null;
  private layers: LayerArrays[] = [];
  private state = "";

  on(
    { width, height }: HTMLCanvasElement,
    layers: LayerArrays[],
    facts: unknown[],
    paint: (context: CanvasRenderingContext2D) => void,
  ): HTMLCanvasElement {
    const state = [width, height, ...facts].join();
    const same = this.state === state && layers.length === this.layers.length;
    if (this.canvas && same && layers.every((layer, i) => layer === this.layers[i])) return this.canvas;
    this.canvas ??= document.createElement("canvas");
    if (this.canvas.width !== width || this.canvas.height !== height) Object.assign(this.canvas, { width, height });
    paint(this.canvas.getContext("2d", { willReadFrequently: true })!);
    [this.layers, this.state] = [layers, state];
    return this.canvas;
  }
}

type Matrix = [number, number, number, number, number, number];

/** How many pixels of the canvas one of the scene is. */
const scaleOf = ([a, b, c, d]: Matrix) => (b === 0 && c === 0 && a === d ? a : Math.sqrt(Math.abs(a * d - b * c)));

/**
 * What takes scene pixels to those of a sheet (`core/draw/sheets.py`), and these to the canvas; and its size. A sheet of
 * the scene's own pixels is moved by whole pixels of the canvas, so that nothing is drawn between.
 */
function sheetOn(place: Matrix, scale: number, sheet: Float32Array): { there: Matrix; back: Matrix; size: Size } {
  const [width, height] = [sheet[12], sheet[13]].map((side) => Math.max(Math.ceil(side * scale), 1));
  const [a, b, c, d, e, f] = sheet;
  if (a === 1 && b === 0 && c === 0 && d === 1 && place[0] === scale && place[1] === 0 && place[2] === 0) {
    const [x, y] = [Math.ceil(e * scale - place[4]), Math.ceil(f * scale - place[5])];
    const there: Matrix = [scale, 0, 0, scale, place[4] + x, place[5] + y];
    return { there, back: [1, 0, 0, 1, -x, -y], size: { width: width + 1, height: height + 1 } };
  }
  const there: Matrix = [a * scale, b * scale, c * scale, d * scale, e * scale, f * scale];
  const back = new DOMMatrix(place)
    .multiply(new DOMMatrix([sheet[6], sheet[7], sheet[8], sheet[9], sheet[10], sheet[11]]))
    .scale(1 / scale);
  return { there, back: [back.a, back.b, back.c, back.d, back.e, back.f], size: { width, height } };
}

/** The stage's painter: draw lists on Canvas 2D, operation for operation as the exporter paints them. */
export class Painter {
  private readonly glyphs = new Map<string, Path2D>();
  private readonly cut = new Map<string, ReturnType<typeof fine>>();
  private readonly kept = new WeakMap<Operation, Path2D>();
  private readonly resting = new WeakMap<Operation, RestingLetters>();
  private readonly sheets = new Sheets();
  private readonly keptSheets: KeptSheets;
  private readonly below = new Sheet();
  private readonly above = new Sheet();
  private place: Matrix;

  /** How many pixels of the canvas one of the scene is; on a sheet that is as it is for the canvas. */
  private unit: number;

  /**
   * `scale` takes scene pixels to those of the canvas. A gradient under a matrix is rounded as the exporter rounds it where
   * its rows are painted from their beginning (`wholeRows`); else it is off by 1 here and there, and costs less.
   */
  constructor(
    private readonly pictures: PictureSource,
    private readonly outlines: Map<string, Outline>,
    private readonly scale = 1,
    private readonly wholeRows = true,
  ) {
    this.place = [scale, 0, 0, scale, 0, 0];
    this.unit = scale;
    this.keptSheets = new KeptSheets(this.sheets, pictures);
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
    if (this.scale < 1 && over.every(({ group }) => group.blend === "normal" && !filters(group))) {
      const above = this.above.on(context.canvas, over, [frame], (sheet) => {
        this.clear(sheet);
        for (const layer of over) this.layer(sheet, layer, frame);
      });
      this.lay(context, above, "source-over");
    } else for (const layer of over) this.layer(context, layer, frame);
  }

  /** A layer alone, on nothing; `place` takes scene pixels to the canvas in place of the painter's scale. */
  ghost(context: CanvasRenderingContext2D, layer: LayerArrays, frame: number, place = this.place) {
    const usual = [this.place, this.unit] as const;
    [this.place, this.unit] = [place, scaleOf(place)];
    this.layer(context, layer, frame);
    [this.place, this.unit] = usual;
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

  private lay(context: CanvasRenderingContext2D, canvas: HTMLCanvasElement, how: GlobalCompositeOperation, alpha = 1) {
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.globalAlpha = alpha;
    context.globalCompositeOperation = how;
    context.drawImage(canvas, 0, 0);
    context.globalAlpha = 1;
    context.globalCompositeOperation = "source-over";
  }

  /** The outlines of all that a layer paints, in the scene. */
  outline(layer: LayerArrays, frame: number): Path2D {
    const whole = new Path2D();
    const add = (group: Group) => {
      const matrix = matrixAt(row(layer, group.matrix, frame), 0);
      for (const part of group.parts) {
        if (part.op === "group") add(part);
        else if (part.op === "path") whole.addPath(this.path(layer, part, frame), matrix);
        else if (part.op === "glyphs") whole.addPath(this.text(layer, part, frame), matrix);
        else if (part.op === "image") {
          const box = new Path2D();
          const [x, y, width, height] = row(layer, part.box, frame);
          box.rect(x, y, width, height);
          whole.addPath(box, matrix);
        }
      }
    };
    add(layer.group);
    return whole;
  }

  private layer(context: CanvasRenderingContext2D, layer: LayerArrays, frame: number) {
    this.group(context, layer, layer.group, frame);
  }

  private group(context: CanvasRenderingContext2D, layer: LayerArrays, group: Group, frame: number) {
    const opacity = row(layer, group.opacity, frame)[0];
    if (!row(layer, group.visible, frame)[0] || opacity === 0) return;
    const sheet = group.effects && row(layer, group.effects.sheet, frame);
    const effects = sheet && sheet[12] > 0 ? group.effects : null;
    const whole = group.masks.length > 0 || effects !== null || group.matte !== null;
    const apart = group.apart && (opacity < 255 || group.blend !== "normal" || whole);
    const blend = composite(group.blend);
    if (filters(group)) {
      if (effects) this.filter(context, layer, group, effects, frame);
      return;
    }
    const target = apart ? this.sheets.take(context.canvas) : context;
    if (effects) this.effected(target, layer, group, effects, frame);
    else this.parts(target, layer, group, apart ? "source-over" : blend, frame);
    if (!apart) return;
    if (group.matte) this.matte(target, layer, group.matte, frame);
    context.save();
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.globalAlpha = opacity / 255;
    context.globalCompositeOperation = blend;
    context.drawImage(target.canvas, 0, 0);
    context.restore();
    this.sheets.free(target);
  }

  /** Run the effects of a group on what has been painted so far, and put that in its place, as far as its masks and its
   * opacity let it. */
  private filter(context: CanvasRenderingContext2D, layer: LayerArrays, group: Group, effects: Effects, frame: number) {
    const scale = this.unit;
    const { there, back, size } = sheetOn(this.place, scale, row(layer, effects.sheet, frame));
    let sheet = this.sheets.take(size);
    sheet.save();
    sheet.imageSmoothingEnabled = true;
    sheet.imageSmoothingQuality = "low";
    const straight = [there, this.place].every(([a, b, c, d]) => a === scale && b === 0 && c === 0 && d === scale);
    if (straight) sheet.translate(there[4] - this.place[4], there[5] - this.place[5]);
    else {
      const { a, b, c, d, e, f } = new DOMMatrix(there).multiply(new DOMMatrix(this.place).inverse());
      sheet.setTransform(a, b, c, d, e, f);
    }
    // Beyond its edges it goes on as it ends there, so that no blur lets the ground through.
    sheet.imageSmoothingEnabled = false;
    for (const [from, to] of beyond(context.canvas)) sheet.drawImage(context.canvas, ...from, ...to);
    sheet.imageSmoothingEnabled = true;
    sheet.drawImage(context.canvas, 0, 0);
    sheet.restore();
    for (const { kind, acts, numbers } of effects.steps)
      if (row(layer, acts, frame)[0])
        sheet = PAINTERS[kind]?.(sheet, row(layer, numbers, frame), scale, this.sheets) ?? sheet;
    const [made, cover] = [this.sheets.take(context.canvas), this.sheets.take(context.canvas)];
    made.save();
    made.setTransform(...back);
    made.imageSmoothingEnabled = true;
    made.imageSmoothingQuality = "low";
    made.drawImage(sheet.canvas, 0, 0);
    made.restore();
    this.flood(cover);
    if (group.masks.length) for (const on of [made, cover]) this.mask(on, layer, group.masks, frame);
    const opacity = row(layer, group.opacity, frame)[0] / 255;
    if (group.blend === "normal") {
      this.lay(context, cover.canvas, "destination-out", opacity);
      this.lay(context, made.canvas, "lighter", opacity);
    } else this.lay(context, made.canvas, composite(group.blend), opacity);
    this.sheets.free(sheet, made, cover);
  }

  /** Paint the parts of a group, and lay its masks into them. */
  private parts(
    target: CanvasRenderingContext2D,
    layer: LayerArrays,
    group: Group,
    blend: GlobalCompositeOperation,
    frame: number,
  ) {
    target.save();
    target.setTransform(...this.place);
    const [a, b, c, d, e, f] = row(layer, group.matrix, frame);
    target.transform(a, b, c, d, e, f);
    target.globalCompositeOperation = blend;
    for (const part of group.parts) this.part(target, layer, part, frame);
    target.restore();
    if (group.masks.length) this.mask(target, layer, group.masks, frame);
  }

  /** Paint the parts of a group on a sheet, run its effects there, and draw that where it belongs. */
  private effected(
    target: CanvasRenderingContext2D,
    layer: LayerArrays,
    group: Group,
    effects: Effects,
    frame: number,
  ) {
    const scale = this.unit;
    const { there, back, size } = sheetOn(this.place, scale, row(layer, effects.sheet, frame));
    const place = [...there, size.width, size.height].join();
    const known = this.keptSheets.find(layer, group, frame, place);
    const sheet = known ?? this.run(layer, group, effects, frame, there, size);
    target.save();
    target.setTransform(...back);
    target.imageSmoothingEnabled = true;
    target.imageSmoothingQuality = "low";
    target.drawImage(sheet.canvas, 0, 0);
    target.restore();
    if (!known && !this.keptSheets.keep(layer, group, frame, place, sheet)) this.sheets.free(sheet);
  }

  /** The sheet of a group with all of its effects run on it. */
  private run(layer: LayerArrays, group: Group, effects: Effects, frame: number, there: Matrix, size: Size) {
    const [outer, scale] = [this.place, this.unit];
    this.place = there;
    let sheet = this.sheets.take(size);
    this.parts(sheet, layer, group, "source-over", frame);
    this.place = outer;
    for (const { kind, acts, numbers } of effects.steps)
      if (row(layer, acts, frame)[0])
        sheet = PAINTERS[kind]?.(sheet, row(layer, numbers, frame), scale, this.sheets) ?? sheet;
    return sheet;
  }

  /** Lay the coverage of masks into what was painted on a sheet. */
  private mask(target: CanvasRenderingContext2D, layer: LayerArrays, masks: MaskPath[], frame: number) {
    const whole = this.sheets.take(target.canvas);
    if (masks[0].mode !== "add") this.flood(whole);
    for (const mask of masks) {
      const one = this.sheets.take(target.canvas);
      this.maskPath(one, layer, mask, frame);
      const laid = mask.inverted ? this.sheets.take(target.canvas) : one;
      if (mask.inverted) {
        this.flood(laid);
        this.lay(laid, one.canvas, "destination-out");
        this.sheets.free(one);
      }
      this.lay(whole, laid.canvas, MODES[mask.mode], row(layer, mask.strength, frame)[0] / 255);
      this.sheets.free(laid);
    }
    this.lay(target, whole.canvas, "destination-in");
    this.sheets.free(whole);
  }

  private maskPath(on: CanvasRenderingContext2D, layer: LayerArrays, mask: MaskPath, frame: number) {
    const blur = row(layer, mask.blur, frame)[0] * scaleOf(this.place);
    const cover = (into: CanvasRenderingContext2D, place: Matrix) => {
      into.transform(...place);
      const [a, b, c, d, e, f] = row(layer, mask.matrix, frame);
      into.transform(a, b, c, d, e, f);
      for (const part of mask.parts) this.fillAndStroke(into, layer, part, frame);
    };
    // A filter works on each outline by itself: several are laid together first.
    const blurred = (into: CanvasRenderingContext2D, by: number, place: Matrix) => {
      const { width, height } = into.canvas;
      const more = 2 * Math.ceil(2 * by);
      const size = { width: width + 2 * more, height: height + 2 * more };
      const whole = by > 0 && mask.parts.length > 1 ? this.sheets.take(size) : into;
      if (whole !== into) {
        whole.save();
        whole.translate(more, more);
        cover(whole, place);
        whole.restore();
      }
      into.save();
      if (by > 0) into.filter = `blur(${by}px)`;
      if (whole === into) cover(into, place);
      else into.drawImage(whole.canvas, -more, -more);
      into.restore();
      if (whole !== into) this.sheets.free(whole);
    };
    if (blur > 0 && blur < SMALL_BLUR && this.exact && mask.weights !== null) {
      const size = { width: on.canvas.width + 2 * REACH, height: on.canvas.height + 2 * REACH };
      const weights = row(layer, mask.weights, frame);
      const [outline, across, whole] = [1, 2, 3].map(() => this.sheets.take(size));
      outline.save();
      outline.translate(REACH, REACH);
      cover(outline, this.place);
      outline.restore();
      copies(outline, across, weights, 1, 0);
      copies(across, whole, weights, 0, 1);
      on.drawImage(whole.canvas, -REACH, -REACH);
      this.sheets.free(outline, across, whole);
      return;
    }
    const sheet = mask.sheet === null ? null : row(layer, mask.sheet, frame);
    if (sheet && sheet[12] > 0) {
      const one = this.sheets.take({ width: sheet[12], height: sheet[13] });
      blurred(one, row(layer, mask.blur, frame)[0], [sheet[0], sheet[1], sheet[2], sheet[3], sheet[4], sheet[5]]);
      on.save();
      on.transform(...this.place);
      on.transform(sheet[6], sheet[7], sheet[8], sheet[9], sheet[10], sheet[11]);
      on.imageSmoothingEnabled = true;
      on.imageSmoothingQuality = "low";
      on.drawImage(one.canvas, 0, 0);
      on.restore();
      this.sheets.free(one);
      return;
    }
    blurred(on, blur, this.place);
  }

  /** Whether it paints scene pixels one to one. */
  private get exact() {
    const [a, b, c, d, e, f] = this.place;
    return a === 1 && b === 0 && c === 0 && d === 1 && Number.isInteger(e) && Number.isInteger(f);
  }

  /** Leave of what was painted on a sheet only what lies where a matte is, or where it is not. */
  private matte(target: CanvasRenderingContext2D, layer: LayerArrays, matte: Matte, frame: number) {
    const sheet = this.sheets.take(target.canvas);
    if (matte.by === "brightness") this.flood(sheet);
    for (const part of matte.parts) this.part(sheet, layer, part, frame);
    target.save();
    if (matte.by === "brightness") target.filter = brightness();
    this.lay(target, sheet.canvas, matte.inverted ? "destination-out" : "destination-in");
    target.restore();
    this.sheets.free(sheet);
  }

  private flood(context: CanvasRenderingContext2D) {
    context.fillStyle = "#000000ff";
    context.fillRect(0, 0, context.canvas.width, context.canvas.height);
  }

  private part(context: CanvasRenderingContext2D, layer: LayerArrays, part: Operation, frame: number) {
    if (part.op === "group") this.group(context, layer, part, frame);
    else if (part.op === "path") this.fillAndStroke(context, layer, part, frame);
    else if (part.op === "glyphs") this.glyphRun(context, layer, part, frame);
    else if (part.op === "image") this.image(context, layer, part, frame);
  }

  private image(context: CanvasRenderingContext2D, layer: LayerArrays, part: ImageOperation, frame: number) {
    const [x, y, width, height] = row(layer, part.box, frame);
    const bitmap =
      part.frame === null
        ? this.pictures.get(part.source)
        : this.clipFrame(context, part.source, row(layer, part.frame, frame)[0], width);
    if (!bitmap) return;
    context.imageSmoothingEnabled = true;
    context.imageSmoothingQuality = "low";
    context.globalAlpha = row(layer, part.opacity, frame)[0] / 255;
    context.drawImage(bitmap, x, y, width, height);
    context.globalAlpha = 1;
  }

  /** A frame of a clip: exact at the scene's own size, else as large as it is seen. */
  private clipFrame(context: CanvasRenderingContext2D, source: string, frame: number, width: number) {
    if (frame < 0) return null;
    const { clips } = this.pictures;
    if (this.scale === 1 && this.exact) {
      const exact = clips.exact(source, frame);
      if (exact || !clips.inRow(source)) return exact ?? clips.nearest(source, frame);
    }
    const { a, b, c, d } = context.getTransform();
    const seen = width * Math.sqrt(Math.abs(a * d - b * c)) * (this.scale === 1 ? REST_SIZE : 1);
    // While the exact frame of a click is on its way, no other one of it is decoded.
    if (clips.isComing(source, frame) && !clips.inRow(source)) return clips.nearest(source, frame);
    return clips.small(source, frame, seen) ?? clips.nearest(source, frame);
  }

  /** An outline; one that is not in motion is built once. */
  private path(layer: LayerArrays, part: PathOperation, frame: number): Path2D {
    const kept = this.kept.get(part);
    if (kept) return kept;
    const path = built(part.verbs, row(layer, part.points, frame));
    if (layer.columns[part.points].rows === 1) this.kept.set(part, path);
    return path;
  }

  private fillAndStroke(context: CanvasRenderingContext2D, layer: LayerArrays, part: PathOperation, frame: number) {
    const path = this.path(layer, part, frame);
    const reach = (beyond: number) => reachOf(row(layer, part.points, frame), beyond, context);
    if (part.fill !== null)
      this.painted(context, layer, part.fill, frame, reach, 0, (on, ink) => {
        on.fillStyle = ink;
        on.fill(path, part.rule);
      });
    if (part.stroke !== null && part.stroke_width !== null) {
      const width = row(layer, part.stroke_width, frame)[0];
      if (width <= 0) return;
      const mitre = part.mitre === null ? MITRE : row(layer, part.mitre, frame)[0];
      // As far as a mitred corner or a square cap reaches.
      const beyond = (width / 2) * Math.max(part.join === "miter" ? mitre : 1, Math.SQRT2);
      this.painted(context, layer, part.stroke, frame, reach, beyond, (on, ink) => {
        on.strokeStyle = ink;
        on.lineWidth = width;
        on.lineCap = part.cap;
        on.lineJoin = part.join;
        on.miterLimit = mitre;
        const dash = part.dash === null ? NONE : row(layer, part.dash, frame);
        const dashed = part.dash_offset !== null && dash[0] >= 0;
        if (dashed) {
          on.setLineDash([...dash]);
          on.lineDashOffset = row(layer, part.dash_offset!, frame)[0];
        }
        on.stroke(path);
        if (dashed) on.setLineDash([]);
      });
    }
  }

  /** Fill or stroke with a colour or a gradient: `draw` does it, on the canvas and with the ink that it is given; `reach`
   * tells in which pixels of the canvas, `beyond` the outline by so much. */
  private painted(
    context: CanvasRenderingContext2D,
    layer: LayerArrays,
    paint: Paint,
    frame: number,
    reach: (beyond: number) => Box,
    beyond: number,
    draw: (on: CanvasRenderingContext2D, ink: string | CanvasGradient) => void,
  ) {
    if (typeof paint === "number") draw(context, colour(row(layer, paint, frame)));
    else if (paint.matrix === null) draw(context, gradient(context, layer, paint, frame));
    else {
      // Coverage first, and the gradient under its matrix into that: canvases know no matrix of a gradient.
      const [left, top, width, height] = reach(beyond);
      if (width <= 0 || height <= 0) return;
      const on = this.sheets.take(context.canvas);
      on.save();
      on.setTransform(context.getTransform());
      draw(on, "#000000ff");
      // Nowhere else is there any.
      on.setTransform(1, 0, 0, 1, 0, 0);
      on.beginPath();
      on.rect(this.wholeRows ? 0 : left, top, this.wholeRows ? on.canvas.width : width, height);
      on.clip();
      on.setTransform(context.getTransform());
      const [a, b, c, d, e, f] = row(layer, paint.matrix, frame);
      on.transform(a, b, c, d, e, f);
      on.globalCompositeOperation = "source-in";
      on.fillStyle = gradient(on, layer, paint, frame);
      const corners = cornersThrough(on.getTransform().inverse(), on.canvas);
      on.fill(corners);
      on.restore();
      const how = context.globalCompositeOperation;
      context.save();
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.globalCompositeOperation = how;
      // A part of a canvas is not drawn to the byte as the whole of it is.
      context.beginPath();
      context.rect(left, top, width, height);
      context.clip();
      context.drawImage(on.canvas, 0, 0);
      context.restore();
      this.sheets.free(on);
    }
  }

  /** Glyphs in one colour as one path; in colours of their own one after another. */
  private glyphRun(context: CanvasRenderingContext2D, layer: LayerArrays, part: GlyphsOperation, frame: number) {
    const fill = row(layer, part.fill, frame);
    if (fill.length === 4) {
      const ink = colour(fill);
      if (this.rested(context, layer, part, ink, frame)) return;
      context.fillStyle = ink;
      context.fill(this.text(layer, part, frame));
      return;
    }
    const matrices = row(layer, part.matrices, frame);
    const many = matrices.length / part.names.length;
    part.names.forEach((name, i) => {
      if (!fill[4 * i + 3]) return;
      context.fillStyle = colour(fill.subarray(4 * i, 4 * i + 4));
      context.fill(this.placed(name, matrices.subarray(many * i, many * i + many)));
    });
  }

  /** Many letters of which some come and most stay, while playing. */
  private rested(
    context: CanvasRenderingContext2D,
    layer: LayerArrays,
    part: GlyphsOperation,
    ink: string,
    frame: number,
  ) {
    if (this.scale >= 1 || part.names.length < MANY_LETTERS || layer.columns[part.matrices].rows === 1) return false;
    const matrices = row(layer, part.matrices, frame);
    if (matrices.length !== 6 * part.names.length) return false;
    const kept = this.resting.get(part) ?? new RestingLetters();
    this.resting.set(part, kept);
    return kept.draw(context, part.names, matrices, ink, (name) => this.glyph(name));
  }

  private text(layer: LayerArrays, part: GlyphsOperation, frame: number): Path2D {
    const kept = this.kept.get(part);
    if (kept) return kept;
    const matrices = row(layer, part.matrices, frame);
    const whole = new Path2D();
    const many = matrices.length / part.names.length;
    part.names.forEach((name, i) => {
      if (many === 9) whole.addPath(this.placed(name, matrices.subarray(9 * i, 9 * i + 9)));
      else whole.addPath(this.glyph(name), matrixAt(matrices, i));
    });
    if (layer.columns[part.matrices].rows === 1) this.kept.set(part, whole);
    return whole;
  }

  /** A glyph under a matrix of six numbers, or of nine, in perspective; with a second part without a length, as the
   * exporter builds it: both are on the general way then. */
  private placed(name: string, matrix: Float32Array): Path2D {
    const path = new Path2D();
    if (matrix.length === 9) {
      const outline = this.outlines.get(name);
      if (!outline) return path;
      let cut = this.cut.get(name);
      if (!cut) {
        cut = fine(outline);
        this.cut.set(name, cut);
      }
      path.addPath(built(cut.verbs, projected(cut.numbers, matrix)));
    } else path.addPath(this.glyph(name), matrixAt(matrix, 0));
    const [x, y] = matrix.length === 9 ? [matrix[2], matrix[5]] : [matrix[4], matrix[5]];
    path.moveTo(x, y);
    path.lineTo(x, y);
    return path;
  }

  private glyph(name: string): Path2D {
    const kept = this.glyphs.get(name);
    if (kept) return kept;
    const outline = this.outlines.get(name);
    if (!outline) return new Path2D();
    const path = built(outline.verbs, outline.numbers);
    this.glyphs.set(name, path);
    return path;
  }
}

type Box = [number, number, number, number];
const FAR = 8192;

/** The pixels along the edges of a canvas, and what lies beyond each; as the exporter has them. */
function beyond({ width, height }: HTMLCanvasElement): [Box, Box][] {
  const along = (long: number) => [
    [0, 1, -FAR, FAR],
    [0, long, 0, long],
    [long - 1, 1, long, FAR],
  ];
  return along(height).flatMap(([y, h, toY, toH]) =>
    along(width)
      .filter(([, w]) => w === 1 || h === 1)
      .map(([x, w, toX, toW]): [Box, Box] => [
        [x, y, w, h],
        [toX, toY, toW, toH],
      ]),
  );
}

/** The pixels of a canvas, left, top, width and height, that points with a margin around them may lie in. */
function reachOf(points: Float32Array, beyond: number, context: CanvasRenderingContext2D): Box {
  const { a, b, c, d, e, f } = context.getTransform();
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 2) {
    const x = a * points[i] + c * points[i + 1] + e;
    const y = b * points[i] + d * points[i + 1] + f;
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < top) top = y;
    if (y > bottom) bottom = y;
  }
  const more = beyond * Math.hypot(a, b, c, d) + 2;
  const [x, y] = [Math.max(Math.floor(left - more), 0), Math.max(Math.floor(top - more), 0)];
  const { width, height } = context.canvas;
  return [x, y, Math.min(Math.ceil(right + more), width) - x, Math.min(Math.ceil(bottom + more), height) - y];
}

/** Whether it is made of what lies below it. */
const filters = (group: Group) => group.parts.some(({ op }) => op === "below");

const MODES = { add: "source-over", subtract: "destination-out", intersect: "destination-in" } as const;

const NONE = new Float32Array([-1]);

/** The mitre limit of strokes that name none, as the exporter has it. */
const MITRE = 10;

const composite = (blend: string) =>
  (blend === "normal" ? "source-over" : blend === "plus-lighter" ? "lighter" : blend) as GlobalCompositeOperation;

const colour = ([r, g, b, a]: Float32Array) => `#${HEX[r]}${HEX[g]}${HEX[b]}${HEX[a]}`;

function gradient(context: CanvasRenderingContext2D, layer: LayerArrays, paint: GradientPaint, frame: number) {
  const [x, y, third, fourth] = row(layer, paint.geometry, frame);
  const made =
    paint.kind === "linear"
      ? context.createLinearGradient(x, y, third, fourth)
      : paint.kind === "radial"
        ? context.createRadialGradient(x, y, 0, x, y, third)
        : context.createConicGradient((third * Math.PI) / 180, x, y);
  const colours = row(layer, paint.colours, frame);
  row(layer, paint.offsets, frame).forEach((offset, i) => {
    made.addColorStop(offset, colour(colours.subarray(4 * i, 4 * i + 4)));
  });
  return made;
}

/** The whole of a canvas as it is seen through a matrix, a little larger. */
function cornersThrough(matrix: DOMMatrix, { width, height }: HTMLCanvasElement): Path2D {
  const path = new Path2D();
  for (const [x, y] of [
    [-9, -9],
    [width + 9, -9],
    [width + 9, height + 9],
    [-9, height + 9],
  ]) {
    const at = matrix.transformPoint({ x, y });
    path.lineTo(at.x, at.y);
  }
  path.closePath();
  return path;
}

function matrixAt(matrices: Float32Array, i: number): DOMMatrix2DInit {
  const [a, b, c, d, e, f] = matrices.subarray(6 * i, 6 * i + 6);
  return { a, b, c, d, e, f };
}
