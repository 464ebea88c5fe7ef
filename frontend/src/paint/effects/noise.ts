import { onPixels, rounded } from "../pixels";
import type { PaintEffect } from "./index";

/** Random bits of whole numbers: multiplied and folded as MurmurHash3 ends, in 32 bits; as `paint/effects/grain.py`. */
export function scattered(x: number, y: number, seed: number): number {
  let h = Math.imul(x, 0x85ebca6b) ^ Math.imul(y, 0xc2b2ae35) ^ seed;
  h ^= h >>> 16;
  h = Math.imul(h, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h, 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Grain, as `core/effects/grain.py` says it. */
export const grain: PaintEffect = (on, numbers, scale) =>
  onPixels(on, (pixels, width, height) => {
    const [strength, wide, tall, left, top, seed, coloured] = numbers;
    const columns = Float64Array.from({ length: width }, (_, i) => Math.floor(((i + 0.5) / scale - left) / wide));
    for (let row = 0; row < height; row++) {
      const y = Math.floor(((row + 0.5) / scale - top) / tall);
      for (let column = 0; column < width; column++) {
        const i = (row * width + column) * 4;
        if (!pixels[i + 3]) continue;
        let more = 0;
        if (!coloured) {
          const bits = scattered(columns[column], y, seed);
          more = ((bits & 0xffff) + (bits >>> 16)) / 65535 - 1;
          pixels[i] = rounded(pixels[i] + more * strength * 127.5);
          pixels[i + 1] = rounded(pixels[i + 1] + more * strength * 127.5);
          pixels[i + 2] = rounded(pixels[i + 2] + more * strength * 127.5);
          continue;
        }
        for (let channel = 0; channel < 3; channel++) {
          const bits = scattered(columns[column], y, seed + channel);
          more = ((bits & 0xffff) + (bits >>> 16)) / 65535 - 1;
          pixels[i + channel] = rounded(pixels[i + channel] + more * strength * 127.5);
        }
      }
    }
  });

const smooth = (u: number) => u * u * (3 - 2 * u);

/** Random numbers 0…1 on a lattice, smooth between, at places in rows and columns; as `paint/effects/field.py`. */
function lattice(x: Float64Array, y: Float64Array, z: number, seed: number, into: Float64Array, share: number) {
  const [firstX, firstY, low] = [
    Math.floor(Math.min(x[0], x.at(-1)!)),
    Math.floor(Math.min(y[0], y.at(-1)!)),
    Math.floor(z),
  ];
  const columns = Math.floor(Math.max(x[0], x.at(-1)!)) + 2 - firstX;
  const rows = Math.floor(Math.max(y[0], y.at(-1)!)) + 2 - firstY;
  const turned = smooth(z - low);
  const seeds = [0, 1].map((step) => Number((BigInt(seed) * 7919n + BigInt(low + step) * 104729n) & 0xffffffffn) | 0);
  const width = x.length;
  const across = new Float64Array(rows * width);
  const grid = new Float64Array(columns);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const [before, after] = seeds.map((one) => scattered(firstX + column, firstY + row, one) / 4294967295);
      grid[column] = before + (after - before) * turned;
    }
    for (let i = 0; i < width; i++) {
      const cell = Math.floor(x[i]);
      const at = cell - firstX;
      across[row * width + i] = grid[at] + (grid[at + 1] - grid[at]) * smooth(x[i] - cell);
    }
  }
  for (let j = 0; j < y.length; j++) {
    const cell = Math.floor(y[j]);
    const v = smooth(y[j] - cell);
    const upper = (cell - firstY) * width;
    for (let i = 0; i < width; i++) {
      const above = across[upper + i];
      into[j * width + i] += (above + (across[upper + width + i] - above) * v) * share;
    }
  }
}

/** A field of noise, as `core/effects/noise_field.py` says it. */
export const field: PaintEffect = (on, numbers, scale) =>
  onPixels(on, (pixels, width, height) => {
    const [amount, wide, tall, left, top, lattices, evolution, contrast, seed] = numbers;
    const [dark, light] = [numbers.subarray(9, 13), numbers.subarray(13, 17)];
    const total = new Float64Array(width * height);
    let weight = 0;
    for (let octave = 0; octave < lattices; octave++) {
      const [share, finer] = [0.5 ** octave, 2 ** octave];
      const x = Float64Array.from({ length: width }, (_, i) => (((i + 0.5) / scale - left) / wide) * finer);
      const y = Float64Array.from({ length: height }, (_, j) => (((j + 0.5) / scale - top) / tall) * finer);
      lattice(x, y, evolution * finer, seed + octave, total, share);
      weight += share;
    }
    for (let p = 0; p < total.length; p++) {
      const i = 4 * p;
      if (!pixels[i + 3]) continue;
      const level = Math.min(Math.max((total[p] / weight - 0.5) * contrast + 0.5, 0), 1);
      for (let channel = 0; channel < 3; channel++) {
        const now = pixels[i + channel];
        const meant = dark[channel] + (light[channel] - dark[channel]) * level;
        pixels[i + channel] = rounded(now + (meant - now) * amount);
      }
      const opacity = (dark[3] + (light[3] - dark[3]) * level) / 255;
      pixels[i + 3] = rounded(pixels[i + 3] * (1 + (opacity - 1) * amount));
    }
  });
