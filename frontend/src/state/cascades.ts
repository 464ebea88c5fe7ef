import { create } from "zustand";

interface Shown {
  /** The cascade that is worked on: of which layer, and which of its own; none. */
  layer: string | null;
  index: number;
  /** The unit that is looked at, in reading order. */
  unit: number;
}

/** Which cascade is worked on: its units show on the stage, its numbers in the panel. */
export const useCascade = create<Shown>(() => ({ layer: null, index: 0, unit: 0 }));

export const showCascade = (layer: string | null, index = 0) => useCascade.setState({ layer, index, unit: 0 });

/** The cascade of a layer that is worked on; undefined where it is none of its. */
export const cascadeShown = (layer: string) => {
  const shown = useCascade.getState();
  return shown.layer === layer ? shown : undefined;
};
