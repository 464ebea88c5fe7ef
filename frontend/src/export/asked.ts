import type { ExportChoices } from "../api/client";

/** What is ordered of a scene: frames first…stop (not included) as a kind of file. */
export interface Asked {
  kind: string;
  first: number;
  stop: number;
  choices: ExportChoices;
}

/** Bytes in words: “1.4 MB”. */
export function sizeWords(bytes: number): string {
  if (bytes < 1e3) return `${bytes} bytes`;
  const [amount, unit] = bytes < 1e6 ? [bytes / 1e3, "kB"] : bytes < 1e9 ? [bytes / 1e6, "MB"] : [bytes / 1e9, "GB"];
  return `${amount < 10 ? amount.toFixed(1) : Math.round(amount)} ${unit}`;
}

/** A size that lies between two, in words. */
export function betweenWords(least: number, most: number): string {
  const [low, high] = [sizeWords(least), sizeWords(most)];
  return low === high ? low : `${low} to ${high}`;
}

/** A time in words: “8 s”, “3 min”. */
export function timeWords(seconds: number): string {
  if (seconds < 1) return "less than a second";
  return seconds < 90 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`;
}

/** The choices that a format heeds. */
export const heeded = (choices: ExportChoices, takes: readonly string[]): ExportChoices =>
  Object.fromEntries(Object.entries(choices).filter(([name]) => takes.includes(name)));
