import { rounded } from "../pixels";
import type { PaintEffect } from "./index";

const INSIDE = 128;

/** An outline, as `core/effects/outline.py` says it: as near as its width to what is half seen at least. */
export const outline: PaintEffect = (on, numbers, scale, sheets) => {
  const { width, height } = on.canvas;
  const [wide, tall] = [Math.max(numbers[0] * scale, 0.01), Math.max(numbers[1] * scale, 0.01)];
  const [reachX, reachY] = [Math.ceil(wide) + 1, Math.ceil(tall) + 1];
  const pixels = on.getImageData(0, 0, width, height).data;
  const down = new Float64Array(width * height).fill(reachY);
  for (let i = 0; i < down.length; i++) if (pixels[4 * i + 3] >= INSIDE) down[i] = 0;
  for (let i = width; i < down.length; i++) down[i] = Math.min(down[i], down[i - width] + 1);
  for (let i = down.length - width - 1; i >= 0; i--) down[i] = Math.min(down[i], down[i + width] + 1);
  const apart = down.map((far) => (far >= reachY ? Number.POSITIVE_INFINITY : (far / tall) * (far / tall)));
  const line = sheets.take(on.canvas);
  const image = line.createImageData(width, height);
  const [red, green, blue] = [...numbers.subarray(2, 5)].map(rounded);
  const nearest = new Float64Array(width);
  for (let row = 0; row < height; row++) {
    const one = apart.subarray(row * width, (row + 1) * width);
    nearest.set(one);
    for (let step = 1; step <= Math.min(reachX, width - 1); step++) {
      const more = (step / wide) * (step / wide);
      for (let i = step; i < width; i++) {
        const left = one[i - step] + more;
        if (left < nearest[i]) nearest[i] = left;
        const right = one[i] + more;
        if (right < nearest[i - step]) nearest[i - step] = right;
      }
    }
    for (let i = 0; i < width; i++) {
      const cover = Math.min(Math.max((1 - Math.sqrt(nearest[i])) * Math.min(wide, tall) + 0.5, 0), 1);
      const at = 4 * (row * width + i);
      image.data[at] = red;
      image.data[at + 1] = green;
      image.data[at + 2] = blue;
      image.data[at + 3] = rounded(cover * numbers[5]);
    }
  }
  line.putImageData(image, 0, 0);
  line.drawImage(on.canvas, 0, 0);
  sheets.free(on);
  return line;
};
