import { toScene } from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { drawing } from "../state/drawing";
import { selection } from "../state/selection";
import { lit } from "./hands/gesture";
import { RULER } from "./hands/guide";
import { cursorOf, handleBox, handled, hitAt, ringIsLit } from "./hitTest";
import { held } from "./useHeldKeys";
import type { StageView } from "./useStageView";

/** The pointer over the stage with nothing pressed: it shows what a press would take. */
export function useHover(session: Session, { area, latest, rulers, at }: StageView) {
  return (event: PointerEvent) => {
    const point = at(event, true);
    const { view } = latest.current;
    if (selection().drawing) {
      area.current!.style.cursor = "crosshair";
      lit.next = toScene(view, point);
      session.frames.touch();
      return;
    }
    lit.next = null;
    if (drawing().draws) {
      area.current!.style.cursor = "crosshair";
      return;
    }
    const hit = hitAt(session, view, point);
    const ids = handled(session).map((layer) => layer.id!);
    const onRuler = rulers && point[0] < RULER !== point[1] < RULER;
    const ruler = point[0] < RULER ? "ew-resize" : "ns-resize";
    area.current!.style.cursor = held.has("h")
      ? "grab"
      : onRuler
        ? ruler
        : cursorOf(hit, handleBox(session, ids, view));
    if (ringIsLit(hit)) session.frames.touch();
  };
}
