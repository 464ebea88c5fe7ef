import type { Facts } from "../api/client";

const asked = new Map<string, Promise<unknown>>();

/** The name by which the page knows a family that ships, loaded from the very files that the picture is shaped with. */
export function faceOf(family: string, facts: Facts): string {
  const name = `Scene ${family}`;
  const known = facts.fonts.find((font) => font.name === family);
  if (!known || asked.has(family)) return name;
  const faces = Object.entries(known.files).flatMap(([style, addresses]) =>
    addresses.map((address) => {
      const weight = `${known.lightest} ${known.heaviest}`;
      // Letters that the first file lacks are looked for in the next.
      const unicodeRange = address.includes("latin-ext") ? "U+0100-2AF,U+1E00-1EFF,U+2C60-2C7F,U+A720-A7FF" : undefined;
      return new FontFace(name, `url(${address})`, { style, weight, ...(unicodeRange ? { unicodeRange } : {}) });
    }),
  );
  for (const face of faces) document.fonts.add(face);
  // Where one cannot be had, the page writes with another font over the picture, and asks again the next time.
  const loaded = Promise.all(faces.map((face) => face.load())).catch(() => asked.delete(family));
  asked.set(family, loaded);
  return name;
}
