import { create } from "zustand";

/** How large the scene is shown, fitted where null; and the scene point in the middle of the stage. */
interface Viewport {
  zoom: number | null;
  centre: [number, number] | null;
}

export const useViewport = create<Viewport>(() => ({ zoom: null, centre: null }));
export const viewport = useViewport.getState;
export const setViewport = useViewport.setState;
