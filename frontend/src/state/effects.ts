import { create } from "zustand";
import type { Layer } from "../api/client";

export type Effect = NonNullable<Layer["effects"]>[number];

interface Effects {
  /** The effect that is worked on: its points have marks on the stage. */
  layer: string | null;
  effect: string | null;
  /** Effects as they lie to be pasted. */
  copied: Effect[];
}

export const useEffects = create<Effects>(() => ({ layer: null, effect: null, copied: [] }));

export const showEffect = (layer: string | null, effect: string | null = null) =>
  useEffects.setState({ layer, effect });

export const copyEffects = (copied: Effect[]) => useEffects.setState({ copied });

export const effectShown = useEffects.getState;
