import { create } from "zustand";

type Point = [number, number];

/** What the next presses on the stage look at, in place of taking hold of layers. */
interface Looking {
  /** Takes the colour that is pressed, as #rrggbbaa. */
  pick: ((colour: string) => void) | null;
  /** Takes the point of the scene that is pressed. */
  spot: ((point: Point) => void) | null;
  /** Two points of the scene whose distance is measured; `true` before the first press. */
  measure: true | { from: Point; to: Point } | null;
  /** Whether the picture is wiped with what it is without effects, as long as a key is held. */
  before: boolean;
}

export const useLooking = create<Looking>(() => ({ pick: null, spot: null, measure: null, before: false }));
export const looking = useLooking.getState;
export const setLooking = useLooking.setState;

/** Whether the stage was looked at; it is no longer. */
export function lookNoMore(): boolean {
  const { pick, spot, measure } = looking();
  if (!pick && !spot && !measure) return false;
  setLooking({ pick: null, spot: null, measure: null });
  return true;
}
