const SVG = "http://www.w3.org/2000/svg";

/** So many filters are kept in the page at most. */
const MOST = 200;
const made = new Map<string, SVGElement>();

/** The filter of an id for canvases to name (Filter Effects 1), kept in the page: one element with its attributes, on
 * the whole canvas, in the colours as they are stored. */
function filter(id: string, element: string, attributes: Record<string, string>): string {
  const known = made.get(id);
  if (known) return `url(#${id})`;
  const svg = document.createElementNS(SVG, "svg");
  svg.setAttribute("width", "0");
  svg.setAttribute("height", "0");
  svg.setAttribute("aria-hidden", "true");
  svg.style.position = "absolute";
  const whole = document.createElementNS(SVG, "filter");
  for (const [name, value] of Object.entries({ id, x: "0", y: "0", width: "1", height: "1" }))
    whole.setAttribute(name, value);
  whole.setAttribute("color-interpolation-filters", "sRGB");
  const part = document.createElementNS(SVG, element);
  for (const [name, value] of Object.entries(attributes)) part.setAttribute(name, value);
  whole.append(part);
  svg.append(whole);
  document.body.append(svg);
  made.set(id, svg);
  const [oldest] = made.keys();
  if (made.size > MOST) {
    made.get(oldest)!.remove();
    made.delete(oldest);
  }
  return `url(#${id})`;
}

/** The filter that makes brightness to opacity (Filter Effects 1, 9.8). */
export const brightness = () => filter("brightness-to-opacity", "feColorMatrix", { type: "luminanceToAlpha" });

/** A blur by deviations along x and y, in pixels of the canvas. */
export function blur(x: number, y: number): string {
  if (x === y) return `blur(${x}px)`;
  return filter(`blur-${x}-${y}`.replaceAll(".", "_"), "feGaussianBlur", { stdDeviation: `${x} ${y}` });
}
