import { create } from "zustand";
import type { Finding, KeyRef } from "../api/client";

export type Paint = "fill" | "stroke";

/** A path that is being drawn on the stage, and what it lies in; no layer until its first point is kept. */
export interface Drawing {
  layer: string | null;
  readonly into: string;
}

/** Letters (code points) of a text, from one to another (not included). */
export interface Letters {
  layer: string;
  start: number;
  stop: number;
}

/** What is selected in this window, and what of it is being edited. */
interface Selection {
  selected: string[];
  keys: KeyRef[];
  /** The key of a motion path whose handles are shown. */
  pathKey: { layer: string; frame: number } | null;
  /** The points of the selected path that are selected; null while its points are not edited. */
  points: number[] | null;
  /** The paint whose gradient has its handles on the stage; null while none has. */
  gradient: Paint | null;
  drawing: Drawing | null;
  /** What a check found, and is drawn on the stage at its frame. */
  finding: Finding | null;
  /** The text layer that is being edited on the stage. */
  editing: string | null;
  /** The letters of a text that are chosen: what is set is set of them alone. */
  letters: Letters | null;
  /** The layer whose name is being typed in the lanes. */
  renaming: string | null;
}

export const NOTHING: Selection = {
  selected: [],
  keys: [],
  pathKey: null,
  points: null,
  gradient: null,
  drawing: null,
  finding: null,
  editing: null,
  letters: null,
  renaming: null,
};

export const useSelection = create<Selection>(() => NOTHING);
export const selection = useSelection.getState;
export const setSelection = useSelection.setState;

/** Select layers; the keys and points selected before are let go. */
export const select = (...selected: string[]) =>
  setSelection({ selected, keys: [], pathKey: null, points: null, gradient: null, finding: null, letters: null });
