/** Below which a blur is a sum of copies, and how far these reach; as `core/draw/blurs.py` has them. */
export const SMALL_BLUR = 2;
export const REACH = 6;

/** Copies of a canvas moved by whole pixels along an axis, added up by their weights in 255ths. */
export function copies(
  from: CanvasRenderingContext2D,
  to: CanvasRenderingContext2D,
  weights: Float32Array,
  x: number,
  y: number,
) {
  to.save();
  to.globalCompositeOperation = "lighter";
  weights.forEach((weight, away) => {
    if (weight <= 0) return;
    to.globalAlpha = weight / 255;
    for (const side of away ? [1, -1] : [1]) to.drawImage(from.canvas, side * away * x, side * away * y);
  });
  to.restore();
}
