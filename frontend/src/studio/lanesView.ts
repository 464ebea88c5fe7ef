import { create } from "zustand";

/** What the lanes show. */
interface LanesView {
  /** Which lanes an opened layer shows. */
  laneMode: "keyed" | "all" | "changed";
  lanesShow: "value" | "speed";
  laneOverlay: boolean;
}

export const useLanesView = create<LanesView>(() => ({ laneMode: "keyed", lanesShow: "value", laneOverlay: false }));
export const lanesView = useLanesView.getState;
export const setLanesView = useLanesView.setState;
