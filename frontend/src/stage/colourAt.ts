import type { Point } from "../geometry/layerGeometry";

/** A colour of the picture: as it is stored, and its light. */
export interface Seen {
  /** #rrggbbaa */
  hex: string;
  /** Red, green and blue in linear light, 0…1 (IEC 61966-2-1). */
  light: [number, number, number];
}

const linear = (part: number) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4);

/** The colour of the pixel in which a scene point lies; null beside the picture, and while it is painted smaller. */
export function colourAt(picture: HTMLCanvasElement | null, [x, y]: Point): Seen | null {
  if (!picture || x < 0 || y < 0 || x >= picture.width || y >= picture.height) return null;
  if (picture.style.visibility === "hidden") return null;
  const context = picture.getContext("2d", { willReadFrequently: true })!;
  const data = [...context.getImageData(Math.floor(x), Math.floor(y), 1, 1).data];
  const hex = `#${data.map((part) => part.toString(16).padStart(2, "0")).join("")}`;
  return { hex, light: data.slice(0, 3).map((part) => linear(part / 255)) as Seen["light"] };
}
