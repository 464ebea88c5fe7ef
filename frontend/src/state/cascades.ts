import { create } from "zustand";

/** A unit of a cascade: its box and its anchor in the layer's pixels, when it begins, and its place in the order. */
export interface Unit {
  box: number[];
  anchor: number[];
  begins: number;
  place: number;
  /** How strongly it takes part, 0…1. */
  strength: number;
}

interface Shown {
  /** The cascade that is worked on: of which layer, and which of its own; none. */
  layer: string | null;
  index: number;
  /** The unit that is looked at, in reading order; none. */
  unit: number | null;
  units: readonly Unit[];
  /** By how much their anchors are being dragged, in the layer's pixels. */
  dragged: [number, number];
}

const NOTHING = { unit: null, units: [], dragged: [0, 0] as [number, number] };

/** Which cascade is worked on: its units show on the stage, its numbers in the panel. */
export const useCascade = create<Shown>(() => ({ layer: null, index: 0, ...NOTHING }));

export const showCascade = (layer: string | null, index = 0) => useCascade.setState({ layer, index, ...NOTHING });

export const setCascade = (shown: Partial<Pick<Shown, "unit" | "units" | "dragged">>) => useCascade.setState(shown);

/** What is worked on of a layer; undefined where it is none of its cascades. */
export function cascadeShown(layer: string | undefined): Shown | undefined {
  const shown = useCascade.getState();
  return layer !== undefined && shown.layer === layer && shown.units.length ? shown : undefined;
}
