/** The pixels of a canvas as numbers, as `mudskipper/paint/pixels.py` has them: the same sums, rounded the same way. */

/** Change the pixels of a canvas in place: red, green, blue, opacity, not premultiplied. */
export function onPixels(
  on: CanvasRenderingContext2D,
  change: (pixels: Uint8ClampedArray, width: number, height: number) => void,
): CanvasRenderingContext2D {
  const { width, height } = on.canvas;
  const image = on.getImageData(0, 0, width, height);
  change(image.data, width, height);
  on.putImageData(image, 0, 0);
  return on;
}

/** Numbers as whole ones within a byte, halves up. */
export const rounded = (number: number) => ((number > 0 ? (number < 255 ? number : 255) : 0) + 0.5) | 0;

/** Paint each pixel again, from where `from` says that it is seen on the canvas, bilinear; NaN where nothing is. */
export function drawnFrom(
  on: CanvasRenderingContext2D,
  from: (x: number, y: number, into: Float64Array) => void,
): CanvasRenderingContext2D {
  return onPixels(on, (pixels, width, height) => {
    const wide = width + 4;
    const around = new Float64Array(wide * (height + 4) * 4);
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        const i = (row * width + column) * 4;
        const o = ((row + 2) * wide + column + 2) * 4;
        const share = pixels[i + 3] / 255;
        for (let channel = 0; channel < 3; channel++) around[o + channel] = pixels[i + channel] * share;
        around[o + 3] = pixels[i + 3];
      }
    const at = new Float64Array(2);
    const found = [0, 0, 0, 0];
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        from(column, row, at);
        const there = !Number.isNaN(at[0]);
        const x = there ? Math.min(Math.max(at[0] - 0.5, -2), width + 1) : -2;
        const y = there ? Math.min(Math.max(at[1] - 0.5, -2), height + 1) : -2;
        const [left, top] = [Math.floor(x), Math.floor(y)];
        const [u, v] = [x - left, y - top];
        const [i, j] = [left + 2, top + 2];
        const [i2, j2] = [Math.min(i + 1, width + 3), Math.min(j + 1, height + 3)];
        const [a, b] = [(j * wide + i) * 4, (j * wide + i2) * 4];
        const [c, d] = [(j2 * wide + i) * 4, (j2 * wide + i2) * 4];
        for (let channel = 0; channel < 4; channel++) {
          const upper = around[a + channel] * (1 - u) + around[b + channel] * u;
          const lower = around[c + channel] * (1 - u) + around[d + channel] * u;
          found[channel] = upper * (1 - v) + lower * v;
        }
        unmultiplied(found, pixels, (row * width + column) * 4);
      }
  });
}

/** Premultiplied numbers as a pixel. */
export function unmultiplied(found: ArrayLike<number>, pixels: Uint8ClampedArray, at: number) {
  const alpha = found[3];
  for (let channel = 0; channel < 3; channel++)
    pixels[at + channel] = alpha > 0 ? rounded((found[channel] * 255) / alpha) : 0;
  pixels[at + 3] = rounded(alpha);
}
