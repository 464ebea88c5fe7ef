import type { Layer } from "../api/client";

type Content = Extract<Layer["content"], { kind?: "text" }>;
export type Part = NonNullable<Content["parts"]>[number];

/** How many code points the first code units of a text are: the document counts those, fields count these. */
export const points = (text: string, units: number) => [...text.slice(0, units)].length;

/** How many code units the first code points of a text are. */
export const units = (text: string, count: number) => [...text].slice(0, count).join("").length;

/** Stretches of a text, each with the part that holds there; as the core lays them. */
export function stretches(text: string, parts: readonly Part[]): { start: number; stop: number; part?: number }[] {
  const count = [...text].length;
  const edges = [...new Set([0, count, ...parts.flatMap(({ start, stop }) => [start, stop])])]
    .filter((edge) => edge <= count)
    .sort((a, b) => a - b);
  return edges.slice(1).map((stop, index) => {
    const start = edges[index];
    const part = parts.findLastIndex((one) => one.start <= start && stop <= one.stop);
    return { start, stop, part: part < 0 ? undefined : part };
  });
}

/** The part that letters are of: the last that holds all of them; undefined where they are as the rest. */
export function partOf(parts: readonly Part[], start: number, stop: number): number | undefined {
  const found = parts.findLastIndex((one) => one.start <= start && stop <= one.stop);
  return found < 0 ? undefined : found;
}

/** Where parts stand in a text that was made of another by typing in one place; as the core moves them. */
export function shifted<T extends { start: number; stop: number }>(parts: readonly T[], was: string, now: string): T[] {
  const [before, after] = [[...was], [...now]];
  const most = Math.min(before.length, after.length);
  let same = 0;
  while (same < most && before[same] === after[same]) same += 1;
  let tail = 0;
  while (tail < most - same && before.at(-1 - tail) === after.at(-1 - tail)) tail += 1;
  const gone = before.length - tail;
  const come = after.length - tail;
  const typed = same === gone;
  const start = (at: number) =>
    at < same || at === 0 || (at === same && !typed) ? at : at < gone ? come : at + come - gone;
  const stop = (at: number) => (at < same || (at === same && !typed) ? at : at <= gone ? come : at + come - gone);
  return parts
    .map((one) => ({ ...one, start: start(one.start), stop: stop(one.stop) }))
    .filter((one) => one.start < one.stop);
}
