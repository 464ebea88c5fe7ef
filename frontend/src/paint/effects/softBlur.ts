import { copies, REACH, SMALL_BLUR } from "../copies";
import { blur } from "../filters";
import type { PaintEffect } from "./index";

/** A soft blur, as `core/effects/soft_blur.py` says it; where painters blur differently, as a sum of copies. */
export const softBlur: PaintEffect = (on, numbers, scale, sheets) => {
  const deviations = [numbers[0] * scale, numbers[1] * scale];
  const small = deviations.map((deviation) => scale === 1 && deviation < SMALL_BLUR);
  const [x, y] = deviations.map((deviation, axis) => (small[axis] ? 0 : deviation));
  let sheet = on;
  const onto = (paint: (next: CanvasRenderingContext2D) => void) => {
    const next = sheets.take(sheet.canvas);
    paint(next);
    sheets.free(sheet);
    sheet = next;
  };
  if (x > 0 || y > 0)
    onto((next) => {
      next.filter = blur(x, y);
      next.drawImage(sheet.canvas, 0, 0);
      next.filter = "none";
    });
  for (const axis of [0, 1])
    if (small[axis] && deviations[axis] > 0) {
      const first = 2 + axis * (REACH + 1);
      onto((next) => copies(sheet, next, numbers.subarray(first, first + REACH + 1), 1 - axis, axis));
    }
  return sheet;
};
