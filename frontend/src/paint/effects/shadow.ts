import { tinted } from "./colours";
import type { PaintEffect } from "./index";
import { softBlur } from "./softBlur";

/** By how much a picture is drawn off from parallel to the pixels: no painter then takes a short cut. */
const ASKEW = 1e-7;

/** A shadow, as `core/effects/shadow.py` says it. */
export const shadow: PaintEffect = (on, numbers, scale, sheets) => {
  const inner = numbers[23] > 0;
  let shape = sheets.take(on.canvas);
  if (inner) {
    shape.fillStyle = "#000000ff";
    shape.fillRect(0, 0, on.canvas.width, on.canvas.height);
    shape.globalCompositeOperation = "destination-out";
  }
  shape.drawImage(on.canvas, 0, 0);
  shape.globalCompositeOperation = "source-over";
  shape = tinted(softBlur(shape, numbers.subarray(2, 18), scale, sheets), numbers[18], numbers.subarray(19, 23));
  const moved = sheets.take(on.canvas);
  moved.save();
  moved.imageSmoothingEnabled = true;
  moved.imageSmoothingQuality = "low";
  moved.setTransform(1, ASKEW, 0, 1, numbers[0] * scale, numbers[1] * scale);
  moved.drawImage(shape.canvas, 0, 0);
  moved.restore();
  sheets.free(shape);
  if (inner) {
    moved.globalCompositeOperation = "destination-in";
    moved.drawImage(on.canvas, 0, 0);
    moved.globalCompositeOperation = "source-over";
    on.drawImage(moved.canvas, 0, 0);
    sheets.free(moved);
    return on;
  }
  moved.drawImage(on.canvas, 0, 0);
  sheets.free(on);
  return moved;
};

/** A glow, as `core/effects/glow.py` says it. */
export const glow: PaintEffect = (on, numbers, scale, sheets) => {
  let light = sheets.take(on.canvas);
  light.drawImage(on.canvas, 0, 0);
  if (numbers[21] > 0) light = tinted(light, 1, numbers.subarray(17, 21));
  const shine = softBlur(light, numbers.subarray(0, 16), scale, sheets);
  on.save();
  on.globalCompositeOperation = "lighter";
  for (let left = Math.trunc(numbers[16]); left > 0; left -= 255) {
    on.globalAlpha = Math.min(left, 255) / 255;
    on.drawImage(shine.canvas, 0, 0);
  }
  on.restore();
  sheets.free(shine);
  return on;
};
