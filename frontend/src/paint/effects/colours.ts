import { onPixels, rounded } from "../pixels";
import type { PaintEffect } from "./index";

/** Colours by a table for each of red, green and blue, and then by a matrix; as `paint/effects/table.py`. */
export const table: PaintEffect = (on, numbers) =>
  onPixels(on, (pixels) => {
    const tables = Float64Array.from(numbers.subarray(0, 768));
    const m = Float64Array.from(numbers.subarray(768, 780));
    for (let i = 0; i < pixels.length; i += 4) {
      if (!pixels[i + 3]) continue;
      const red = tables[pixels[i]];
      const green = tables[256 + pixels[i + 1]];
      const blue = tables[512 + pixels[i + 2]];
      for (let channel = 0; channel < 3; channel++) {
        const row = 4 * channel;
        pixels[i + channel] = rounded(m[row] * red + m[row + 1] * green + m[row + 2] * blue + m[row + 3]);
      }
    }
  });

/** Colours by a table of them by brightness; as `paint/effects/map.py`. */
export const map: PaintEffect = (on, numbers) =>
  onPixels(on, (pixels) => {
    const amount = numbers[0];
    const colours = Float64Array.from(numbers.subarray(1, 1025));
    if (amount === 1 && colours.every((number, i) => i % 4 < 3 || number === 255)) {
      // All of it, opaque: a colour by its brightness alone.
      const bytes = Uint8Array.from(colours, rounded);
      for (let i = 0; i < pixels.length; i += 4) {
        if (!pixels[i + 3]) continue;
        const at = 4 * ((0.213 * pixels[i] + 0.715 * pixels[i + 1] + 0.072 * pixels[i + 2] + 0.5) | 0);
        pixels[i] = bytes[at];
        pixels[i + 1] = bytes[at + 1];
        pixels[i + 2] = bytes[at + 2];
      }
      return;
    }
    for (let i = 0; i < pixels.length; i += 4) {
      if (!pixels[i + 3]) continue;
      const light = 0.213 * pixels[i] + 0.715 * pixels[i + 1] + 0.072 * pixels[i + 2];
      const at = 4 * Math.floor(light + 0.5);
      for (let channel = 0; channel < 3; channel++) {
        const now = pixels[i + channel];
        pixels[i + channel] = rounded(now + (colours[at + channel] - now) * amount);
      }
      pixels[i + 3] = rounded(pixels[i + 3] * (1 + (colours[at + 3] / 255 - 1) * amount));
    }
  });

/** All of a canvas in one colour, its opacity multiplied by a gain, and then by that of the colour. */
export const tinted = (on: CanvasRenderingContext2D, gain: number, colour: Float32Array) =>
  onPixels(on, (pixels) => {
    const [red, green, blue] = [...colour.subarray(0, 3)].map(rounded);
    const opacity = colour[3];
    for (let i = 0; i < pixels.length; i += 4) {
      const alpha = Math.min(pixels[i + 3] * gain, 255);
      pixels[i] = red;
      pixels[i + 1] = green;
      pixels[i + 2] = blue;
      pixels[i + 3] = rounded((alpha * opacity) / 255);
    }
  });

/** A colour that comes in from the edges; as `paint/effects/vignette.py`. */
export const vignette: PaintEffect = (on, numbers, scale) =>
  onPixels(on, (pixels, width, height) => {
    const [amount, first, last, left, top, wide, tall] = numbers;
    for (let row = 0; row < height; row++) {
      const down = ((row + 0.5) / scale - top) / tall;
      for (let column = 0; column < width; column++) {
        const i = (row * width + column) * 4;
        if (!pixels[i + 3]) continue;
        const across = ((column + 0.5) / scale - left) / wide;
        const far = Math.sqrt(across * across + down * down);
        const u = Math.min(Math.max((far - first) / (last - first), 0), 1);
        const share = u * u * (3 - 2 * u) * amount;
        for (let channel = 0; channel < 3; channel++) {
          const now = pixels[i + channel];
          pixels[i + channel] = rounded(now + (numbers[7 + channel] - now) * share);
        }
      }
    }
  });

/** A colour keyed out; as `paint/effects/key_out.py`. */
export const keyOut: PaintEffect = (on, numbers) =>
  onPixels(on, (pixels) => {
    const [keyRed, keyGreen, keyBlue, tolerance, softness, spill, matte] = numbers;
    const keyU = -0.168736 * keyRed - 0.331264 * keyGreen + 0.5 * keyBlue;
    const keyV = 0.5 * keyRed - 0.418688 * keyGreen - 0.081312 * keyBlue;
    const long = Math.max(keyU * keyU + keyV * keyV, 1e-9);
    for (let i = 0; i < pixels.length; i += 4) {
      if (!pixels[i + 3]) continue;
      const [red, green, blue] = [pixels[i], pixels[i + 1], pixels[i + 2]];
      let u = -0.168736 * red - 0.331264 * green + 0.5 * blue;
      let v = 0.5 * red - 0.418688 * green - 0.081312 * blue;
      const far = Math.sqrt((u - keyU) * (u - keyU) + (v - keyV) * (v - keyV));
      const kept = Math.min(Math.max((far - tolerance) / softness, 0), 1);
      if (matte > 0) {
        for (let channel = 0; channel < 3; channel++) pixels[i + channel] = rounded(255 * kept);
        continue;
      }
      const light = 0.299 * red + 0.587 * green + 0.114 * blue;
      const along = Math.max((u * keyU + v * keyV) / long, 0) * spill;
      u -= keyU * along;
      v -= keyV * along;
      pixels[i] = rounded(light + 1.402 * v);
      pixels[i + 1] = rounded(light - 0.344136 * u - 0.714136 * v);
      pixels[i + 2] = rounded(light + 1.772 * u);
      pixels[i + 3] = rounded(pixels[i + 3] * kept);
    }
  });
