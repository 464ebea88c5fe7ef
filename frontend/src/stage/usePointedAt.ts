import { useEffect } from "react";
import { isItem } from "../document/items";
import {
  anchorAt,
  boxHolds,
  cornersOf,
  distance,
  isThere,
  type Point,
  STATIONS,
  toScene,
  toScreen,
} from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { usePointing } from "../state/formulas";
import type { StageView } from "./useStageView";

/** How near to an anchor or a station a press points at it, in pixels. */
const NEAR = 14;

/** What the hand that points for a formula finds on the stage: the nearest anchor or station of any layer that is there,
 * else the anchor of the front layer that holds the point. */
export function usePointedAt(session: Session, { latest, at }: StageView) {
  useEffect(() => {
    const onStage = (event: PointerEvent) => {
      const point = at(event, true);
      const { view } = latest.current;
      const { frames } = session;
      let best: { layer: string; share: Point | null; away: number } | null = null;
      const nearer = (layer: string, share: Point | null, place: Point) => {
        const away = distance(toScreen(view, place), point);
        if (away <= NEAR && (!best || away < best.away)) best = { layer, share, away };
      };
      const ids = [...frames.order].reverse().filter((id) => !isItem(id));
      for (const id of ids) {
        const arrays = frames.layer(id);
        if (!arrays || !isThere(arrays, frames.frame)) continue;
        const carried = session.layer(id)?.carrier;
        const [a, b, , d] = cornersOf(arrays, frames.frame);
        const placeOf = ([x, y]: Point): Point => [
          a[0] + x * (b[0] - a[0]) + y * (d[0] - a[0]),
          a[1] + x * (b[1] - a[1]) + y * (d[1] - a[1]),
        ];
        // A carried layer's position is a number of its carrier; where its anchor stands is not.
        if (!carried) nearer(id, null, anchorAt(arrays, frames.frame));
        for (const share of Object.values(STATIONS)) nearer(id, share, placeOf(share));
      }
      if (best) return best as { layer: string; share: Point | null };
      const here = toScene(view, point);
      const held = ids.find((id) => {
        const arrays = frames.layer(id);
        return arrays && isThere(arrays, frames.frame) && boxHolds(arrays, frames.frame, here);
      });
      return held ? { layer: held, share: session.layer(held)?.carrier ? ([0.5, 0.5] as Point) : null } : null;
    };
    usePointing.setState({ onStage });
    return () => usePointing.setState({ onStage: () => null });
  }, [session, latest, at]);
}
