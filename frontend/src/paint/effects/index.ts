import type { Sheets } from "../sheets";
import { averaged } from "./averaged";
import { keyOut, map, table, vignette } from "./colours";
import { field, grain } from "./noise";
import { outline } from "./outline";
import { halftone, mosaic, stripes } from "./patterns";
import { glow, shadow } from "./shadow";
import { softBlur } from "./softBlur";
import { bulge, warp, wave } from "./warps";

/** Runs an effect on a canvas, whose pixels are `scale` times those of the sheet it stands for, by the numbers that the
 * core gives; the canvas with what it makes of it, the other one laid down. */
export type PaintEffect = (
  on: CanvasRenderingContext2D,
  numbers: Float32Array,
  scale: number,
  sheets: Sheets,
) => CanvasRenderingContext2D;

/** By the names that their kinds are painted by; `mudskipper/paint/effects` does the same. */
export const PAINTERS: Record<string, PaintEffect> = {
  "soft-blur": softBlur,
  table,
  map,
  averaged,
  shadow,
  glow,
  outline,
  grain,
  field,
  vignette,
  pixels: mosaic,
  halftone,
  stripes,
  "key-out": keyOut,
  bulge,
  wave,
  warp,
};
