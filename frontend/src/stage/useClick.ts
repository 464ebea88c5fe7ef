import { useRef } from "react";
import { editText, isText } from "../acts/editText";
import { enter } from "../acts/goInto";
import { cascadesOf } from "../document/contents";
import { insideOf } from "../document/items";
import { distance, fromPolygon, type Point, toScene, type View } from "../geometry/layerGeometry";
import { cascadeEdits } from "../session/cascades";
import { endDrawing, pathPoints } from "../session/drawnPath";
import type { Session } from "../session/session";
import { cascadeShown, setCascade } from "../state/cascades";
import { drawing, typedSize } from "../state/drawing";
import { select, selection, setSelection } from "../state/selection";
import { unitMarks } from "./cascadeMarks";
import { drawnAbout, keepDrawn } from "./hands/draw";
import { tidied } from "./hands/gesture";
import { PenStroke } from "./hands/pen";
import { type Hit, hitAt, holding, layersAt } from "./hitTest";
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
    const again = event.timeStamp - last.current.time < DOUBLE && distance(start, last.current.at) < 2 * CLICK;
    if (selection().drawing) {
      last.current = { time: event.timeStamp, at: start, had: undefined };
      if (again) void endDrawing(session);
      else new PenStroke(session, view, start).end();
      return;
    }
    const { draws, typed } = drawing();
    if (draws) {
      const { width, height } = session.answer!.scene;
      const side = Math.max(Math.round(Math.min(width, height) / 4), 8);
      const size: Point = typedSize(typed) ?? [draws === "rectangle" || draws === "text" ? 2 * side : side, side];
      void keepDrawn(session, draws, drawnAbout(tidied(toScene(view, start), view.scale), size, draws));
      return;
    }
    const hit = hitAt(session, view, start);
    if (selection().points) {
      last.current = { time: event.timeStamp, at: start, had: undefined };
      clickPoint(session, view, start, hit, { again, adds: event.shiftKey });
      return;
    }
    if (hit.kind === "key") {
      setSelection({ pathKey: { layer: hit.layer, frame: hit.frame } });
      return;
    }
    if (hit.kind === "unit anchor") {
      setCascade({ unit: hit.unit });
      return;
    }
    if (["handle", "tangent", "gradient"].includes(hit.kind)) return;
    if (event.altKey && pickUnit(session, view, start)) return;
    const under = layersAt(session, view, start);
    const { selected } = selection();
    // The first of two clicks on a selected text has selected what lies below it.
    const text = [last.current.had, selected[0]].find((id) => isText(session, id) && under.includes(id!));
    const had = last.current.had;
    last.current = { time: event.timeStamp, at: start, had: selected.length === 1 ? selected[0] : undefined };
    if (again && text && selected.length <= 1) {
      editText(session, text);
      return;
    }
    if (again && had && under.includes(had) && enter(session, had, (ids) => holding(session, view, start, ids))) return;
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

/** A click while the points of a path are edited: a point, again to make it smooth or a corner; twice on the outline adds. */
function clickPoint(session: Session, view: View, start: Point, hit: Hit, how: { again: boolean; adds: boolean }) {
  const { points, selected } = selection();
  const { frame } = session.frames;
  const [layer] = selected;
  if (hit.kind === "point") {
    const chosen = points ?? [];
    if (how.again) {
      const one = pathPoints(session, layer)[hit.point];
      const way = distance(one.at, one.in) + distance(one.at, one.out) > 0 ? "corner" : "smooth";
      void session.edit({ edit: "shape_points", layer, frame, points: [hit.point], way });
    } else if (!how.adds) setSelection({ points: [hit.point] });
    else
      setSelection({
        points: chosen.includes(hit.point) ? chosen.filter((one) => one !== hit.point) : [...chosen, hit.point],
      });
  } else if (hit.kind === "outline") {
    if (how.again) void addPoint(session, layer, toScene(view, start));
  } else if (hit.kind !== "bend") {
    if (points?.length) setSelection({ points: [] });
    else if (how.again) setSelection({ points: null });
  }
  session.frames.touch();
}

/** Add a point to the outline where it is nearest to a place in the scene, and select it. */
async function addPoint(session: Session, layer: string, at: Point) {
  if (!(await session.edit({ edit: "add_point", layer, frame: session.frames.frame, at }))) return;
  const { points, selected } = selection();
  if (!points || selected.join() !== layer) return;
  const away = pathPoints(session, layer).map((point) => distance(point.at, at));
  setSelection({ points: [away.indexOf(Math.min(...away))] });
}

/** With Alt a click on a unit of the cascade that is worked on lets it take part, or no longer; whether one was there. */
function pickUnit(session: Session, view: View, at: Point): boolean {
  const id = selection().selected[0];
  const shown = cascadeShown(id);
  const layer = session.layer(id);
  const mark = unitMarks(session, view).find(({ corners }) => fromPolygon(at, corners) < 0);
  if (!shown || !layer || layer.locked || !mark) return false;
  const choice = cascadesOf(layer.content)[shown.index]?.choice;
  const before = choice?.picked ?? [];
  const picked = before.includes(mark.index) ? before.filter((one) => one !== mark.index) : [...before, mark.index];
  const next = picked.length ? { ...choice, picked: picked.sort((a, b) => a - b) } : null;
  void session.edit(...cascadeEdits(id, shown.index, { choice: next as never }));
  return true;
}
