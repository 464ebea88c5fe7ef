import type { Outline } from "../api/arrays";

/** Into how many pieces curves are cut, and the least share of its distance to which what comes nearer is seen: as the core has
 * them (`geometry/perspective.py`). */
const PIECES = 4;
const NEAREST = 0.05;

const TAKES: Record<string, number> = { M: 1, L: 1, Q: 2, C: 3, Z: 0 };

/** An outline whose curves are cut so finely that their pieces may be taken for curves again in perspective. */
export function fine({ verbs, numbers }: Outline): { verbs: string; numbers: number[] } {
  let made = "";
  const found: number[] = [];
  let at = 0;
  let now = [0, 0];
  for (const verb of verbs) {
    const count = TAKES[verb];
    const own = [...numbers.subarray(at, at + 2 * count)];
    at += 2 * count;
    if (verb === "Q" || verb === "C") {
      made += verb.repeat(PIECES);
      cut([...now, ...own], found);
    } else {
      made += verb;
      found.push(...own);
    }
    if (count) now = own.slice(-2);
  }
  return { verbs: made, numbers: found };
}

/** What the pieces of a curve take, one after another (de Casteljau). */
function cut(curve: number[], into: number[]) {
  let whole = curve;
  for (let left = PIECES; left > 0; left--) {
    const t = 1 / left;
    let level = whole;
    const first: number[] = [];
    const rest: number[] = level.slice(-2);
    while (level.length > 2) {
      const next: number[] = [];
      for (let i = 0; i + 3 < level.length; i += 2)
        next.push(level[i] + (level[i + 2] - level[i]) * t, level[i + 1] + (level[i + 3] - level[i + 1]) * t);
      level = next;
      first.push(level[0], level[1]);
      rest.unshift(...level.slice(-2));
    }
    into.push(...first);
    whole = rest;
  }
}

/** The numbers of an outline through a matrix of nine, row by row. */
export function projected(numbers: readonly number[], m: Float32Array): Float32Array {
  const found = new Float32Array(numbers.length);
  for (let i = 0; i < numbers.length; i += 2) {
    const [x, y] = [numbers[i], numbers[i + 1]];
    const w = Math.max(m[6] * x + m[7] * y + m[8], NEAREST);
    found[i] = (m[0] * x + m[1] * y + m[2]) / w;
    found[i + 1] = (m[3] * x + m[4] * y + m[5]) / w;
  }
  return found;
}
