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

const KEY = "mudskipper.copied-effects";

/** What was copied last, in this or in another window. */
function lastCopied(): Effect[] {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) ?? "[]");
    return Array.isArray(found) ? found : [];
  } catch {
    return [];
  }
}

export const useEffects = create<Effects>(() => ({ layer: null, effect: null, copied: lastCopied() }));

addEventListener("storage", ({ key }) => key === KEY && useEffects.setState({ copied: lastCopied() }));

export const showEffect = (layer: string | null, effect: string | null = null) =>
  useEffects.setState({ layer, effect });

export const copyEffects = (copied: Effect[]) => {
  localStorage.setItem(KEY, JSON.stringify(copied));
  useEffects.setState({ copied });
};

export const effectShown = useEffects.getState;
