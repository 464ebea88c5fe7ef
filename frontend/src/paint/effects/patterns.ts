import { onPixels, rounded, unmultiplied } from "../pixels";
import type { PaintEffect } from "./index";

/** Where a run of equal numbers begins, and at last the end. */
function starts(cells: Float64Array): number[] {
  const found: number[] = [];
  cells.forEach((cell, i) => {
    if (i === 0 || cell !== cells[i - 1]) found.push(i);
  });
  return [...found, cells.length];
}

/** A mosaic, as `core/effects/pixels.py` says it: each cell in the average of what lies in it. */
export const mosaic: PaintEffect = (on, numbers, scale) =>
  onPixels(on, (pixels, width, height) => {
    const [wide, tall, left, top] = numbers;
    const across = starts(
      Float64Array.from({ length: width }, (_, i) => Math.floor(((i + 0.5) / scale - left) / wide)),
    );
    const down = starts(Float64Array.from({ length: height }, (_, j) => Math.floor(((j + 0.5) / scale - top) / tall)));
    const one = new Uint8ClampedArray(4);
    for (let r = 0; r + 1 < down.length; r++)
      for (let c = 0; c + 1 < across.length; c++) {
        const sums = [0, 0, 0, 0];
        for (let row = down[r]; row < down[r + 1]; row++)
          for (let column = across[c]; column < across[c + 1]; column++) {
            const i = (row * width + column) * 4;
            const alpha = pixels[i + 3];
            for (let channel = 0; channel < 3; channel++) sums[channel] += pixels[i + channel] * alpha;
            sums[3] += alpha;
          }
        const count = (down[r + 1] - down[r]) * (across[c + 1] - across[c]);
        unmultiplied([sums[0] / 255 / count, sums[1] / 255 / count, sums[2] / 255 / count, sums[3] / count], one, 0);
        for (let row = down[r]; row < down[r + 1]; row++)
          for (let column = across[c]; column < across[c + 1]; column++) pixels.set(one, (row * width + column) * 4);
      }
  });

/** The radius of a dot that fills its cell, as a share of the side of that. */
const LARGEST = 0.7072;

/** Dots of ink on paper, as `core/effects/halftone.py` says it. */
export const halftone: PaintEffect = (on, numbers, scale) =>
  onPixels(on, (pixels, width, height) => {
    const [amount, side, angle, left, top] = numbers;
    const [ink, paper] = [numbers.subarray(5, 9), numbers.subarray(9, 13)];
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const dark = new Float64Array(width * height);
    for (let p = 0; p < dark.length; p++) {
      const i = 4 * p;
      const light = 0.213 * pixels[i] + 0.715 * pixels[i + 1] + 0.072 * pixels[i + 2];
      dark[p] = pixels[i + 3] > 0 ? 1 - light / 255 : 0;
    }
    for (let row = 0; row < height; row++) {
      const y = (row + 0.5) / scale;
      for (let column = 0; column < width; column++) {
        const at = (row * width + column) * 4;
        if (!pixels[at + 3]) continue;
        const x = (column + 0.5) / scale;
        const u = (cos * (x - left) + sin * (y - top)) / side;
        const v = (cos * (y - top) - sin * (x - left)) / side;
        let cover = 0;
        for (let across = 0; across < 2; across++)
          for (let down = 0; down < 2; down++) {
            const [i, j] = [Math.floor(u - 0.5) + 0.5 + across, Math.floor(v - 0.5) + 0.5 + down];
            const atX = Math.floor((left + (cos * i - sin * j) * side) * scale);
            const atY = Math.floor((top + (sin * i + cos * j) * side) * scale);
            const near = Math.min(Math.max(atY, 0), height - 1) * width + Math.min(Math.max(atX, 0), width - 1);
            const radius = Math.sqrt(dark[near]) * (LARGEST * side + 0.5 / scale);
            if (radius <= 0) continue;
            const away = Math.sqrt((u - i) * (u - i) + (v - j) * (v - j)) * side;
            cover = Math.max(cover, Math.min(Math.max((radius - away) * scale + 0.5, 0), 1));
          }
        for (let channel = 0; channel < 3; channel++) {
          const now = pixels[at + channel];
          const meant = paper[channel] + (ink[channel] - paper[channel]) * cover;
          pixels[at + channel] = rounded(now + (meant - now) * amount);
        }
        const opacity = (paper[3] + (ink[3] - paper[3]) * cover) / 255;
        pixels[at + 3] = rounded(pixels[at + 3] * (1 + (opacity - 1) * amount));
      }
    }
  });

/** Stripes, as `core/effects/stripes.py` says it. */
export const stripes: PaintEffect = (on, numbers, scale) =>
  onPixels(on, (pixels, width, height) => {
    const [across, down, start, period, left, softness] = numbers;
    const colour = numbers.subarray(6, 10);
    const soft = Math.max(softness, 1 / scale);
    const found = [0, 0, 0, 0];
    for (let row = 0; row < height; row++) {
      const y = (row + 0.5) / scale;
      for (let column = 0; column < width; column++) {
        const i = (row * width + column) * 4;
        const alpha = pixels[i + 3];
        if (!alpha) continue;
        const at = ((column + 0.5) / scale) * across + y * down - start;
        const within = at - Math.floor(at / period) * period;
        const edge = within <= left ? Math.min(within, left - within) : -Math.min(within - left, period - within);
        const cover = left <= 0 ? 0 : Math.min(Math.max(edge / soft + 0.5, 0), 1);
        const kept = alpha * cover;
        const between = (alpha * (1 - cover) * colour[3]) / 255;
        for (let channel = 0; channel < 3; channel++)
          found[channel] = (pixels[i + channel] * kept + colour[channel] * between) / 255;
        found[3] = kept + between;
        unmultiplied(found, pixels, i);
      }
    }
  });
