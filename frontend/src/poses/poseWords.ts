import { isPlain } from "../document/tracks";

const rounded = (n: number) => Math.round(n * 10) / 10;
const written = (n: number) => `${rounded(n)}`.replace("-", "−");
const all = (value: unknown) => (Array.isArray(value) ? value : [value]) as number[];
const apart = (by: number, back: string, on: string) =>
  rounded(by) === 0 ? [] : [`${Math.abs(rounded(by))}\u00a0px ${by < 0 ? back : on}`];

/** What each property of motion does from a value to the next, in words; the first key of all has none before it. */
const CHANGES: Record<string, (from: number[], to: number[]) => string> = {
  position: ([x, y], [toX, toY]) =>
    [...apart(toX - x, "left", "right"), ...apart(toY - y, "up", "down")].join(", ") || "stays",
  "position.x": ([x], [to]) => apart(to - x, "left", "right").join() || "stays",
  "position.y": ([y], [to]) => apart(to - y, "up", "down").join() || "stays",
  scale: ([x, y], [toX, toY]) => {
    if (toX !== toY) return `scales to ${written(toX)}, ${written(toY)}\u00a0%`;
    return `${Math.abs(toX) * 2 < Math.abs(x) + Math.abs(y) ? "shrinks" : "grows"} to ${written(toX)}\u00a0%`;
  },
  rotation: ([from], [to]) => `turns ${written(to - from)}°`,
  opacity: ([from], [to]) => {
    if (to === 0) return "fades out";
    if (from === 0) return to === 100 ? "fades in" : `fades in to ${written(to)}\u00a0%`;
    return `fades to ${written(to)}\u00a0%`;
  },
};

/** How a value is told where it is not told as a change: a unit for what has no label of its own. */
const UNITS: Record<string, string> = { scale: "\u00a0%", rotation: "°", opacity: "\u00a0%" };

/** What a key does, in a few words: "62 px down", "fades in"; of other properties what it sets. */
export function wordsOf(name: string, label: string, before: unknown, value: unknown): string {
  if (isPlain(value)) return label.toLowerCase();
  const numbers = all(value);
  const change = CHANGES[name];
  if (change && before !== undefined) return change(all(before), numbers);
  // "Rotation of Left claw": the claw turns.
  const inner = CHANGES[name.slice(name.lastIndexOf(".") + 1)];
  const [, subject] = label.split(/ of (.*)/);
  if (inner && subject && before !== undefined) return `${subject} ${inner(all(before), numbers)}`;
  const shown = (name === "anchor" ? numbers.map((n) => n * 100) : numbers).map(written);
  const same = name !== "position" && shown.length === 2 && shown[0] === shown[1];
  return `${label.toLowerCase()} ${same ? shown[0] : shown.join(", ")}${UNITS[name] ?? ""}`;
}
