import { drawnFrom } from "../pixels";
import type { PaintEffect } from "./index";

/** Swollen about a point, as `core/effects/bulge.py` says it. */
export const bulge: PaintEffect = (on, numbers, scale) => {
  const [left, top, wide, tall, power] = numbers;
  return drawnFrom(on, (column, row, at) => {
    const across = ((column + 0.5) / scale - left) / wide;
    const down = ((row + 0.5) / scale - top) / tall;
    const far = Math.sqrt(across * across + down * down);
    const share = far > 0 && far < 1 ? far ** (power - 1) : 1;
    at[0] = (left + across * share * wide) * scale;
    at[1] = (top + down * share * tall) * scale;
  });
};

/** Swaying in waves, as `core/effects/wave.py` says it. */
export const wave: PaintEffect = (on, numbers, scale) => {
  const [byX, byY, wayX, wayY, phase] = numbers;
  return drawnFrom(on, (column, row, at) => {
    const [x, y] = [(column + 0.5) / scale, (row + 0.5) / scale];
    const share = Math.sin(x * wayX + y * wayY + phase);
    at[0] = (x - byX * share) * scale;
    at[1] = (y - byY * share) * scale;
  });
};

/** Four corners that go elsewhere, as `core/effects/warp.py` says it. */
export const warp: PaintEffect = (on, numbers, scale) => {
  const [a, b, c, d, e, f, g, h, i] = numbers;
  return drawnFrom(on, (column, row, at) => {
    const [x, y] = [(column + 0.5) / scale, (row + 0.5) / scale];
    const near = g * x + h * y + i;
    at[0] = near > 1e-6 ? ((a * x + b * y + c) / near) * scale : Number.NaN;
    at[1] = near > 1e-6 ? ((d * x + e * y + f) / near) * scale : Number.NaN;
  });
};
