import { create } from "zustand";
import type { KeyRef } from "../api/client";

export interface Said {
  text: string;
  kind: "said" | "problem";
  undo?: boolean;
  at: number;
}

export type Scope = "frame" | "every key" | "throughout";

/** What this window has chosen; nothing here belongs to the document. */
interface Choices {
  selected: string[];
  keys: KeyRef[];
  keep: "picture" | "anchor";
  /** When the picture stays put on a layer in motion. */
  scope: Scope;
  anchorUnit: "%" | "px" | "scene";
  /** What a handle of a shape's box changes. */
  handleBy: "scale" | "size";
  /** About what several layers are scaled and turned. */
  about: "box" | "own";
  /** The key of a motion path whose handles are shown. */
  pathKey: { layer: string; frame: number } | null;
  unlinked: Record<string, boolean>;
  opened: Record<string, boolean>;
  magnet: boolean;
  zoom: number | null;
  playing: boolean;
  loop: boolean;
  speed: number;
  drawer: "add" | "media" | null;
  dialog: "export" | "keys" | "explain" | null;
  said: Said | null;
  connected: boolean;
}

export const useChoices = create<Choices>(() => ({
  selected: [],
  keys: [],
  keep: "picture",
  scope: "frame",
  anchorUnit: "%",
  handleBy: localStorage.getItem("mudskipper.handleBy") === "size" ? "size" : "scale",
  about: localStorage.getItem("mudskipper.about") === "own" ? "own" : "box",
  pathKey: null,
  unlinked: {},
  opened: {},
  magnet: true,
  zoom: null,
  playing: false,
  loop: true,
  speed: 1,
  drawer: null,
  dialog: null,
  said: null,
  connected: true,
}));

export const choose = useChoices.setState;
export const choices = useChoices.getState;

export const say = (text: string, undo = false) => choose({ said: { text, kind: "said", undo, at: Date.now() } });

export const sayProblem = (error: unknown) =>
  choose({ said: { text: error instanceof Error ? error.message : String(error), kind: "problem", at: Date.now() } });

/** Select layers; the keys selected before are let go. */
export const select = (...selected: string[]) => choose({ selected, keys: [], pathKey: null });

/** Choose what is remembered on this machine. */
export function chooseAndKeep(change: { handleBy: "scale" | "size" } | { about: "box" | "own" }) {
  for (const [name, value] of Object.entries(change)) localStorage.setItem(`mudskipper.${name}`, value);
  choose(change);
}
