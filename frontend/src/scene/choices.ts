import { create } from "zustand";
import type { Ease, Edit, KeyRef } from "../api/client";

export interface Said {
  text: string;
  kind: "said" | "problem";
  undo?: boolean;
  at: number;
}

export type LooseKey = Extract<Edit, { edit?: "paste_keys" }>["keys"][number];
export type Dialog = "export" | "keys" | "explain" | "history" | "values" | "easing";

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
  /** Layers that alone are painted while any is named here. */
  solo: string[];
  /** Which lanes an opened layer shows. */
  laneMode: "keyed" | "all" | "changed";
  tall: Record<string, boolean>;
  lanesShow: "value" | "speed";
  laneOverlay: boolean;
  /** How many times wider than fitted the lanes are, and the frame at their left edge. */
  laneZoom: number;
  laneFrom: number;
  /** Properties that a pose keys; null stands for those that are keyed. */
  poseProperties: string[] | null;
  ripple: boolean;
  loopOver: "all" | "span" | "keys" | "range";
  range: [number, number] | null;
  clipboard: { keys: LooseKey[]; from: string } | null;
  easeClip: Ease | null;
  /** A layer and the variant that is shown beside it. */
  compare: { layer: string; name: string } | null;
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
  dialog: Dialog | null;
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
  solo: [],
  laneMode: "keyed",
  tall: {},
  lanesShow: "value",
  laneOverlay: false,
  laneZoom: 1,
  laneFrom: 0,
  poseProperties: JSON.parse(localStorage.getItem("mudskipper.poseProperties") ?? "null"),
  ripple: localStorage.getItem("mudskipper.ripple") !== "no",
  loopOver: "all",
  range: null,
  clipboard: null,
  easeClip: null,
  compare: null,
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
export function chooseAndKeep(change: Partial<Pick<Choices, "handleBy" | "about" | "poseProperties" | "ripple">>) {
  for (const [name, value] of Object.entries(change)) {
    const told =
      typeof value === "string" ? value : typeof value === "boolean" ? (value ? "yes" : "no") : JSON.stringify(value);
    localStorage.setItem(`mudskipper.${name}`, told);
  }
  choose(change);
}
