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
  /** What is shown beside the scene as it stands. */
  compare: Compared | null;
}

/** A layer moving as a variant of it does, or another moment of the scene. */
export type Compared = { layer: string; name: string } | { moment: number };

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
