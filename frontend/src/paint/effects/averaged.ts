import type { PaintEffect } from "./index";

const HALVES = [128, 127];

/** Copies of a picture averaged by doubling, as `core/effects/spread_blur.py` says it. */
export const averaged: PaintEffect = (on, numbers, scale, sheets) => {
  let sheet = on;
  const draw = (copies: [Float32Array | null, number][]) => {
    const next = sheets.take(sheet.canvas);
    next.save();
    next.imageSmoothingEnabled = true;
    next.imageSmoothingQuality = "low";
    next.globalCompositeOperation = "lighter";
    for (const [m, alpha] of copies) {
      if (m) next.setTransform(m[0], m[1], m[2], m[3], m[4] * scale, m[5] * scale);
      else next.setTransform(1, 0, 0, 1, 0, 0);
      next.globalAlpha = alpha / 255;
      next.drawImage(sheet.canvas, 0, 0);
    }
    next.restore();
    sheets.free(sheet);
    sheet = next;
  };
  const each = Array.from({ length: 7 }, (_, i) => numbers.subarray(6 * i, 6 * i + 6));
  // On a smaller scale copies that lie within a pixel of each other are one.
  const { width, height } = on.canvas;
  const near = (m: Float32Array) => scale < 1 && reach(m, width, height, scale) < 1;
  const left = each.slice(2).findIndex((step) => !near(step));
  if (near(each[2])) draw([[each[0], 255]]);
  else
    draw([
      [each[0], HALVES[0]],
      [each[1], HALVES[1]],
    ]);
  for (const step of left < 0 ? [] : each.slice(2 + left))
    draw([
      [null, HALVES[0]],
      [step, HALVES[1]],
    ]);
  return sheet;
};

/** How far a matrix moves the corners of a sheet at most, in its pixels. */
function reach([a, b, c, d, e, f]: Float32Array, width: number, height: number, scale: number): number {
  const away = [0, width].flatMap((x) =>
    [0, height].map((y) => Math.hypot(a * x + c * y + e * scale - x, b * x + d * y + f * scale - y)),
  );
  return Math.max(...away);
}
