import { create } from "zustand";
import { persist } from "zustand/middleware";

/** Whether and how the scene plays. */
interface Playback {
  playing: boolean;
  loop: boolean;
  speed: number;
  /** Whether its sound is heard, and whether also, slowed, at half and quarter speed. */
  sound: boolean;
  slowSound: boolean;
}

export const usePlayback = create<Playback>()(
  persist(() => ({ playing: false, loop: true, speed: 1, sound: true, slowSound: false }) as Playback, {
    name: "mudskipper.sound",
    partialize: ({ sound, slowSound }) => ({ sound, slowSound }),
  }),
);
export const playback = usePlayback.getState;
export const setPlayback = usePlayback.setState;
