export interface Size {
  width: number;
  height: number;
}

/** Canvases to paint on and lay down again; those that are free are used again. */
export class Sheets {
  private readonly spare: HTMLCanvasElement[] = [];

  /** An empty canvas of a size. */
  take({ width, height }: Size): CanvasRenderingContext2D {
    const canvas = this.spare.pop() ?? document.createElement("canvas");
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    const sheet = canvas.getContext("2d", { willReadFrequently: true })!;
    sheet.setTransform(1, 0, 0, 1, 0, 0);
    sheet.clearRect(0, 0, width, height);
    return sheet;
  }

  free(...sheets: CanvasRenderingContext2D[]) {
    this.spare.push(...sheets.map(({ canvas }) => canvas));
  }
}
