import { create } from "zustand";

/** What the lanes show. */
interface LanesView {
  /** Which lanes an opened layer shows. */
  laneMode: "keyed" | "all" | "changed";
  lanesShow: "value" | "speed";
  laneOverlay: boolean;
  /** The source that is slipped under its span now, by frames. */
  slipping: { layer: string; by: number } | null;
}

export const useLanesView = create<LanesView>(() => ({
  laneMode: "keyed",
  lanesShow: "value",
  laneOverlay: false,
  slipping: null,
}));
export const lanesView = useLanesView.getState;
export const setLanesView = useLanesView.setState;
