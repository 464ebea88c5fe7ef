import { create } from "zustand";
import type { Ease, Edit } from "../api/client";

export type LooseKey = Extract<Edit, { edit?: "paste_keys" }>["keys"][number];
export type Scope = "frame" | "every key" | "throughout";

/** How the hands work in this window. */
interface Tools {
  keep: "picture" | "anchor";
  /** When the picture stays put on a layer in motion. */
  scope: Scope;
  anchorUnit: "%" | "px" | "scene";
  magnet: boolean;
  /** Pairs whose numbers are changed apart. */
  unlinked: Record<string, boolean>;
  easeClip: Ease | null;
}

export const useTools = create<Tools>(() => ({
  keep: "picture",
  scope: "frame",
  anchorUnit: "%",
  magnet: true,
  unlinked: {},
  easeClip: null,
}));
export const tools = useTools.getState;
export const setTools = useTools.setState;
