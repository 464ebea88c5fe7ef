import { create } from "zustand";
import type { Layer } from "../api/client";
import { isKeyed } from "../document/tracks";

/** Which layers the lanes show, beside those whose name or kind has the words. */
export type Only = "all" | "keyed" | "selected" | "here" | "carried";

interface Filter {
  open: boolean;
  words: string;
  only: Only;
}

const NONE: Filter = { open: false, words: "", only: "all" };

export const useLaneFilter = create<Filter>(() => NONE);
export const setLaneFilter = useLaneFilter.setState;
export const closeFilter = () => setLaneFilter(NONE);

/** Whether anything is left out. */
export const isFiltered = ({ words, only }: Pick<Filter, "words" | "only">) => words.trim() !== "" || only !== "all";

interface Around {
  selected: string[];
  frame: number;
  kind: (layer: Layer) => string;
}

/** Whether a layer is shown: each of the words begins one of its name or its kind. */
export function fits(layer: Layer, { words, only }: Pick<Filter, "words" | "only">, around: Around): boolean {
  const { start, length } = layer.span;
  const { selected, frame, kind } = around;
  if (only === "keyed" && !isKeyed(layer)) return false;
  if (only === "selected" && !selected.some((id) => id.split("/")[0] === layer.id)) return false;
  if (only === "here" && !(frame >= start && frame < start + length)) return false;
  if (only === "carried" && !layer.carrier) return false;
  const text = ` ${layer.name} ${kind(layer)}`.toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(` ${word}`));
}
