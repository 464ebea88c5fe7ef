import { create } from "zustand";

/** How a scene is looked at; each scene keeps its own (`sceneMemory.ts`). */
export interface SceneView {
  /** Layers that alone are painted while any is named here. */
  solo: string[];
  range: [number, number] | null;
  loopOver: "all" | "span" | "keys" | "range";
  /** How many times wider than fitted the lanes are, and the frame at their left edge. */
  laneZoom: number;
  laneFrom: number;
  opened: Record<string, boolean>;
  tall: Record<string, boolean>;
  /** A layer and the variant that is shown beside it. */
  compare: { layer: string; name: string } | null;
}

export const FIRST_VIEW: SceneView = {
  solo: [],
  range: null,
  loopOver: "all",
  laneZoom: 1,
  laneFrom: 0,
  opened: {},
  tall: {},
  compare: null,
};

export const useSceneView = create<SceneView>(() => FIRST_VIEW);
export const sceneView = useSceneView.getState;
export const setSceneView = useSceneView.setState;
