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
  anchorUnit: "%" | "px";
  unlinked: Record<string, boolean>;
  opened: Record<string, boolean>;
  magnet: boolean;
  zoom: number | null;
  playing: boolean;
  loop: boolean;
  speed: number;
  drawer: "add" | "media" | null;
  dialog: "export" | "keys" | null;
  said: Said | null;
  connected: boolean;
}

export const useChoices = create<Choices>(() => ({
  selected: [],
  keys: [],
  keep: "picture",
  scope: "frame",
  anchorUnit: "%",
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
export const select = (...selected: string[]) => choose({ selected, keys: [] });
