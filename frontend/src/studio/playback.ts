import { create } from "zustand";

/** Whether and how the scene plays. */
interface Playback {
  playing: boolean;
  loop: boolean;
  speed: number;
}

export const usePlayback = create<Playback>(() => ({ playing: false, loop: true, speed: 1 }));
export const playback = usePlayback.getState;
export const setPlayback = usePlayback.setState;
