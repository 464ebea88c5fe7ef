/** From how many letters on those that rest are kept painted. */
export const MANY_LETTERS = 200;

/** So often in a row they may all be painted again, before it is left for a while. */
const MISSES = 3;
const PAUSE = 30;

/**
 * The letters of a run that lie where they lay in the frame before, kept on a canvas: of a long text that comes in letter
 * by letter only those that have just arrived are painted. Letters that overlap are laid on one another there instead of
 * being filled as one, so it is for pictures in motion alone.
 */
export class RestingLetters {
  private readonly canvas = document.createElement("canvas");
  private matrices: Float32Array = new Float32Array(0);
  private state = "";
  private misses = 0;
  private pause = 0;

  /** Draw letters under matrices of six numbers, all zero for those that are elsewhere; false where that gains nothing. */
  draw(
    on: CanvasRenderingContext2D,
    names: string[],
    matrices: Float32Array,
    ink: string,
    glyph: (name: string) => Path2D,
  ) {
    if (this.pause > 0) {
      this.pause -= 1;
      return false;
    }
    const { width, height } = on.canvas;
    const place = on.getTransform();
    const state = [width, height, ink, place.a, place.b, place.c, place.d, place.e, place.f].join();
    const more = state === this.state && matrices.length === this.matrices.length ? this.arrived(matrices) : null;
    this.misses = more ? 0 : this.misses + 1;
    if (this.misses > MISSES) {
      [this.misses, this.pause, this.state] = [0, PAUSE, ""];
      return false;
    }
    const sheet = this.canvas.getContext("2d", { willReadFrequently: true })!;
    if (!more) Object.assign(this.canvas, { width, height });
    [this.matrices, this.state] = [matrices, state];
    const fresh = new Path2D();
    for (const i of more ?? names.keys()) {
      const [a, b, c, d, e, f] = matrices.subarray(6 * i, 6 * i + 6);
      if (a || b || c || d) fresh.addPath(glyph(names[i]), { a, b, c, d, e, f });
    }
    sheet.setTransform(place);
    sheet.fillStyle = ink;
    sheet.fill(fresh);
    on.save();
    on.setTransform(1, 0, 0, 1, 0, 0);
    on.drawImage(this.canvas, 0, 0);
    on.restore();
    return true;
  }

  /** Which letters rest now and did not before; null where any of the others lies elsewhere. */
  private arrived(matrices: Float32Array): number[] | null {
    const found: number[] = [];
    const before = this.matrices;
    for (let i = 0; i < matrices.length; i += 6) {
      let same = true;
      let none = true;
      for (let k = i; k < i + 6; k++) {
        same &&= matrices[k] === before[k];
        none &&= before[k] === 0;
      }
      if (!same && !none) return null;
      if (!same) found.push(i / 6);
    }
    return found;
  }
}
