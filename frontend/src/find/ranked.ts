import type { Entry } from "./command";

/** What people call things that have another name here. */
const SAME: Record<string, string> = {
  rotation: "spin turn angle tilt rotate",
  opacity: "fade see-through transparent alpha invisible dissolve",
  scale: "size zoom bigger smaller enlarge grow shrink",
  position: "move place x y left right",
  anchor: "pivot centre of turning hinge",
  easing: "speed curve smooth slow in out",
  blur: "soft out of focus",
  duplicate: "copy clone again",
  delete: "remove erase",
  split: "cut in two",
  export: "render save film video",
  keyframe: "key",
};

const plain = (text: string) => text.toLowerCase().replace(/[…“”]/g, "");

/** How well something is found by words: 0 where not all of them are in it. */
export function score(entry: Pick<Entry, "name" | "words">, asked: string[]): number {
  const name = plain(entry.name);
  const first = name.split(/[\s:]+/);
  const also = `${entry.words ?? ""} ${first.map((word) => SAME[word] ?? "").join(" ")}`.toLowerCase();
  let sum = 0;
  for (const word of asked) {
    if (name.startsWith(word)) sum += 4;
    else if (first.some((one) => one.startsWith(word))) sum += 3;
    else if (name.includes(word)) sum += 2;
    else if (also.split(/\s+/).some((one) => one.startsWith(word))) sum += 1.5;
    else if (also.includes(word)) sum += 1;
    else return 0;
  }
  return sum / asked.length + (name === asked.join(" ") ? 2 : 0);
}

/**
 * What is found by what was typed, the best first; of those that are alike the ones that were chosen more often, then in
 * the order in which they came.
 */
export function ranked(entries: Entry[], typed: string, used: Record<string, number>, most = 40): Entry[] {
  const asked = plain(typed).split(/\s+/).filter(Boolean);
  const often = (entry: Entry) => used[`${entry.kind} ${entry.name}`] ?? 0;
  if (!asked.length) return [...entries].sort((a, b) => often(b) - often(a)).slice(0, most);
  return entries
    .map((entry) => ({ entry, points: score(entry, asked) }))
    .filter(({ points }) => points > 0)
    .map((one) => ({ ...one, points: one.points + Math.min(often(one.entry), 5) * 0.3 }))
    .sort((a, b) => b.points - a.points)
    .slice(0, most)
    .map(({ entry }) => entry);
}

/** A property, what it is set to, and when: `rotation -90 @ +12`. */
export interface Sentence {
  property: string;
  values: string[];
  at: string | null;
}

const SENTENCE =
  /^\s*(\p{L}[\p{L}\s]*?)\s+((?:[+*/-]?[\d.,][\d.,+*/()-]*\s*(?:px|%|°|deg)?|#[0-9a-f]{3,8})(?:\s+-?[\d.,][\d.,+*/()-]*\s*(?:px|%|°)?)?)\s*(?:@\s*(.*))?$/iu;

/** What was typed as a sentence that sets a property; null where it is none. */
export function sentence(typed: string): Sentence | null {
  const found = SENTENCE.exec(typed);
  if (!found) return null;
  const values = found[2].trim().split(/\s+(?=[-\d.#])/);
  return { property: found[1].trim().toLowerCase(), values, at: found[3] === undefined ? null : found[3].trim() };
}
