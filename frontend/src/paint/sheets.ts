export interface Size {
  width: number;
  height: number;
}

/** So many free canvases are kept; one of another size would be allocated again anyway. */
const MOST = 12;

/** Canvases to paint on and lay down again; those that are free are used again, one of the same size first. */
export class Sheets {
  private readonly spare: HTMLCanvasElement[] = [];

  /** An empty canvas of a size. */
  take({ width, height }: Size): CanvasRenderingContext2D {
    const same = this.spare.findLastIndex((one) => one.width === width && one.height === height);
    const [kept] = same < 0 ? this.spare.splice(0, this.spare.length < MOST ? 0 : 1) : this.spare.splice(same, 1);
    const canvas = kept ?? document.createElement("canvas");
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    const sheet = canvas.getContext("2d", { willReadFrequently: true })!;
    sheet.setTransform(1, 0, 0, 1, 0, 0);
    sheet.clearRect(0, 0, width, height);
    return sheet;
  }

  free(...sheets: CanvasRenderingContext2D[]) {
    this.spare.push(...sheets.map(({ canvas }) => canvas));
    this.spare.splice(0, Math.max(this.spare.length - MOST, 0));
  }
}
