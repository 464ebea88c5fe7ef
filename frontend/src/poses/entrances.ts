import type { Ease, Edit } from "../api/client";
import type { Session } from "../session/session";
import { habits, setHabits } from "../state/habits";
import { sayProblem } from "../state/page";
import { selection } from "../state/selection";

export type Side = "left" | "right" | "top" | "bottom";
export const ORDERS = ["as given", "reversed", "from the middle", "from the ends", "random"] as const;

/** How layers come in, or go out: any mix of ways. */
export interface Ways {
  side: Side | null;
  /** In pixels; null stands for just outside the scene. */
  distance: number | null;
  /** In percent of its scale; null leaves the scale. */
  scale: number | null;
  /** Where it is scaled from; null stands for its anchor. */
  station: string | null;
  angle: number;
  transparent: boolean;
  wipe: Side | null;
  ease: Ease | null;
  length: number;
  stagger: number;
  order: (typeof ORDERS)[number];
}

export const FIRST: Ways = {
  side: "left",
  distance: null,
  scale: null,
  station: null,
  angle: 0,
  transparent: false,
  wipe: null,
  ease: null,
  length: 12,
  stagger: 3,
  order: "as given",
};

export const isAny = ({ side, scale, angle, transparent, wipe }: Ways) =>
  side !== null || scale !== null || angle !== 0 || transparent || wipe !== null;

/** The ways that were taken last, or those that everybody begins with. */
export const lastWays = (way: "in" | "out"): Ways => ({ ...FIRST, ...habits().entrances[way] });
export const keepWays = (way: "in" | "out", ways: Ways) =>
  setHabits(({ entrances }) => ({ entrances: { ...entrances, [way]: ways } }));

/** The edit that brings layers in, landing at a frame, or takes them out from there. */
export function entranceOf(way: "in" | "out", layers: string[], frame: number, ways: Ways): Edit {
  const { ease, angle, distance, side, stagger, order, ...others } = ways;
  const several = layers.length > 1 ? { stagger, order } : {};
  return {
    edit: way === "in" ? "bring_in" : "take_out",
    layers,
    frame,
    ...others,
    ...several,
    ...(ease ? { ease } : {}),
    side,
    distance: side ? distance : null,
    angle: angle || null,
  } as Edit;
}

/** Bring the selected layers in, or take them out, as was done last: here they have landed, or leave from. */
export function again(session: Session, way: "in" | "out") {
  const { selected } = selection();
  const ways = lastWays(way);
  const [does, button] = way === "in" ? ["bring them in", "In…"] : ["take them out", "Out…"];
  if (!isAny(ways)) sayProblem(new Error(`Choose once how to ${does}, with “${button}” in the pose strip.`));
  else void session.edit(entranceOf(way, selected, session.frames.frame, ways));
}
