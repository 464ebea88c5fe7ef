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

export type Carry = "place" | "fraction" | "fit";

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
  /** How layers go along with a change of the scene's size. */
  carry: Carry;
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
  /** How large the scene is shown, fitted where null; and the scene point in the middle of the stage. */
  zoom: number | null;
  centre: [number, number] | null;
  /** The layer whose name is being typed in the lanes. */
  renaming: string | null;
  playing: boolean;
  loop: boolean;
  speed: number;
  drawer: "add" | "media" | null;
  dialog: Dialog | null;
  said: Said | null;
  connected: boolean;
}

const isOneOf =
  (...known: unknown[]) =>
  (value: unknown) =>
    known.includes(value);
const isNames = (value: unknown) => Array.isArray(value) && value.every((name) => typeof name === "string");

/** A choice kept on this machine; one that cannot be read is dropped. */
function stored<T>(name: string, otherwise: T, fits: (value: unknown) => boolean): T {
  const place = `mudskipper.${name}`;
  try {
    const value = JSON.parse(localStorage.getItem(place) ?? "null");
    if (fits(value)) return value;
  } catch {
    localStorage.removeItem(place);
  }
  return otherwise;
}

export const useChoices = create<Choices>(() => ({
  selected: [],
  keys: [],
  keep: "picture",
  scope: "frame",
  anchorUnit: "%",
  handleBy: stored<"scale" | "size">("handleBy", "scale", isOneOf("scale", "size")),
  about: stored<"box" | "own">("about", "box", isOneOf("box", "own")),
  pathKey: null,
  solo: [],
  laneMode: "keyed",
  tall: {},
  lanesShow: "value",
  laneOverlay: false,
  laneZoom: 1,
  laneFrom: 0,
  poseProperties: stored<string[] | null>("poseProperties", null, (value) => isNames(value)),
  ripple: stored("ripple", true, (value) => typeof value === "boolean"),
  carry: stored<Carry>("carry", "place", isOneOf("place", "fraction", "fit")),
  loopOver: "all",
  range: null,
  clipboard: null,
  easeClip: null,
  compare: null,
  unlinked: {},
  opened: {},
  magnet: true,
  zoom: null,
  centre: null,
  renaming: null,
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

/** Something succeeded: what was wrong before needs no saying any more. */
export const settled = () => {
  if (choices().said?.kind === "problem") choose({ said: null });
};

/** Select layers; the keys selected before are let go. */
export const select = (...selected: string[]) => choose({ selected, keys: [], pathKey: null });

/** Choose what is remembered on this machine. */
export function chooseAndKeep(
  change: Partial<Pick<Choices, "handleBy" | "about" | "poseProperties" | "ripple" | "carry">>,
) {
  for (const [name, value] of Object.entries(change)) localStorage.setItem(`mudskipper.${name}`, JSON.stringify(value));
  choose(change);
}
