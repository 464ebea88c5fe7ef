import type { Sheets } from "../sheets";
import { softBlur } from "./softBlur";

/** Runs an effect on a canvas, whose pixels are `scale` times those of the sheet it stands for, by the numbers that the
 * core gives; the canvas with what it makes of it, the other one laid down. */
export type PaintEffect = (
  on: CanvasRenderingContext2D,
  numbers: Float32Array,
  scale: number,
  sheets: Sheets,
) => CanvasRenderingContext2D;

/** By the names of their kinds; `mudskipper/paint/effects` does the same. */
export const PAINTERS: Record<string, PaintEffect> = { "soft-blur": softBlur };
