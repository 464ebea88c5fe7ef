import { useRef } from "react";
import { editText, isText } from "../studio/editText";
import { goInto } from "../studio/goInto";
import { insideOf } from "../studio/items";
import { distance, type Point } from "../studio/layerGeometry";
import { select, selection, setSelection } from "../studio/selection";
import type { Session } from "../studio/session";
import { hitAt, holding, layersAt } from "./hitTest";
import type { StageView } from "./useStageView";

/** How far a pointer may move and still have clicked, in pixels. */
export const CLICK = 3;
/** Two clicks within this time are a double click, in milliseconds. */
const DOUBLE = 400;

/**
 * A click: the layer on top, again the one below; Shift adds; on a key of the path, its handles. Twice on a selected text
 * it is edited, twice on a selected shape layer or group leads into it.
 */
export function useClick(session: Session, { latest }: StageView) {
  /** The last click, and the one layer that was selected before it. */
  const last = useRef({ time: Number.NEGATIVE_INFINITY, at: [0, 0] as Point, had: undefined as string | undefined });
  return (start: Point) => (event: React.PointerEvent) => {
    const { view } = latest.current;
    const hit = hitAt(session, view, start);
    if (hit.kind === "key") {
      setSelection({ pathKey: { layer: hit.layer, frame: hit.frame } });
      return;
    }
    if (hit.kind === "handle" || hit.kind === "tangent") return;
    const under = layersAt(session, view, start);
    const { selected } = selection();
    const twice = event.timeStamp - last.current.time < DOUBLE && distance(start, last.current.at) < 2 * CLICK;
    // The first of two clicks on a selected text has selected what lies below it.
    const text = [last.current.had, selected[0]].find((id) => isText(session, id) && under.includes(id!));
    const had = last.current.had;
    last.current = { time: event.timeStamp, at: start, had: selected.length === 1 ? selected[0] : undefined };
    if (twice && text && selected.length <= 1) {
      editText(session, text);
      return;
    }
    const shape = twice && had ? goInto(session, had, (ids) => holding(session, view, start, ids)) : null;
    if (shape) {
      select(shape);
      return;
    }
    if (event.shiftKey && under[0] && insideOf([under[0]]) === insideOf(selected)) {
      const has = selected.includes(under[0]);
      select(...(has ? selected.filter((id) => id !== under[0]) : [...selected, under[0]]));
      return;
    }
    const place = selected.length === 1 ? under.indexOf(selected[0]) : -1;
    const next = under.length ? under[(place + 1) % under.length] : undefined;
    select(...(next ? [next] : []));
  };
}
