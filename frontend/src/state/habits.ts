import { create } from "zustand";
import { persist } from "zustand/middleware";

export type Carry = "place" | "fraction" | "fit";

/** How somebody works, remembered on this machine. */
interface Habits {
  /** What a handle of a shape's box changes. */
  handleBy: "scale" | "size";
  /** About what several layers are scaled and turned. */
  about: "box" | "own";
  /** Properties that a pose keys; null stands for those that are keyed. */
  poseProperties: string[] | null;
  /** Whether later poses go along where a move is made longer. */
  ripple: boolean;
  /** How layers go along with a change of the scene's size. */
  carry: Carry;
  /** Whether the pose strip shows cards, or the keys as numbers. */
  poseFace: "cards" | "numbers";
  /** How layers were brought in and taken out last. */
  entrances: { in?: object; out?: object };
}

const FIRST: Habits = {
  handleBy: "scale",
  about: "box",
  poseProperties: null,
  ripple: true,
  carry: "place",
  poseFace: "cards",
  entrances: {},
};

const isOneOf =
  (...known: unknown[]) =>
  (value: unknown) =>
    known.includes(value);
const isNames = (value: unknown) => Array.isArray(value) && value.every((name) => typeof name === "string");

const FITS: Record<keyof Habits, (value: unknown) => boolean> = {
  handleBy: isOneOf("scale", "size"),
  about: isOneOf("box", "own"),
  poseProperties: (value) => value === null || isNames(value),
  ripple: isOneOf(true, false),
  carry: isOneOf("place", "fraction", "fit"),
  poseFace: isOneOf("cards", "numbers"),
  entrances: (value) => typeof value === "object" && value !== null,
};

/** A stored habit that is none is as it was at first. */
export const useHabits = create<Habits>()(
  persist(() => FIRST, {
    name: "mudskipper.habits",
    merge: (kept) => {
      const known = Object.entries(kept ?? {}).filter(([name, value]) => FITS[name as keyof Habits]?.(value));
      return { ...FIRST, ...Object.fromEntries(known) };
    },
  }),
);

export const habits = useHabits.getState;
export const setHabits = useHabits.setState;
