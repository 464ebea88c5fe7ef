import { useCallback, useEffect, useRef } from "react";
import { centreOf, distance, type Point } from "../geometry/layerGeometry";
import { hold, onMoves } from "../parts/press";
import type { Session } from "../session/session";
import { playback, setPlayback } from "../state/playback";
import { setViewport } from "../state/viewport";
import { type Begin, gestureAt } from "./gestures";
import type { Gesture } from "./hands/gesture";
import { GuideDrag, RULER } from "./hands/guide";
import { PanDrag } from "./hands/pan";
import { CLICK, useClick } from "./useClick";
import { held, useHeldKeys } from "./useHeldKeys";
import { useHover } from "./useHover";
import type { StageView } from "./useStageView";

interface Press {
  gesture: Gesture | null;
  start: Point;
  begin: Begin;
  click: (event: React.PointerEvent) => void;
  listening?: AbortController;
  ended?: () => void;
}

/** A pointer on the stage from press to release: a gesture once it has moved, else a click; two fingers zoom. */
export function usePress(session: Session, stage: StageView) {
  const { area, latest, rulers, freeze, at, zoomAbout } = stage;
  const press = useRef<Press | null>(null);
  const touches = useRef(new Map<number, Point>());
  const hover = useHover(session, stage);
  const click = useClick(session, stage);

  const release = useCallback(() => {
    const last = press.current;
    press.current = null;
    last?.listening?.abort();
    last?.ended?.();
    freeze(null);
    return last;
  }, [freeze]);

  const cancel = useCallback(() => release()?.gesture?.cancel(), [release]);

  useHeldKeys(
    useCallback(() => {
      if (!press.current) return false;
      cancel();
      return true;
    }, [cancel]),
  );

  /** A press begins: from here on its moves are heard as they are made. */
  const begins = (next: Press) => {
    release();
    const listening = new AbortController();
    press.current = { ...next, listening, ended: hold(cancel) };
    onMoves(area.current!, (event) => drawn.current(event), { signal: listening.signal });
  };

  const startPan = (start: Point) => {
    const { view, room } = latest.current;
    const from = centreOf(view, room);
    setViewport({ zoom: view.scale, centre: from });
    const gesture = new PanDrag(start, from, view.scale, (centre) => setViewport({ centre }));
    begins({ gesture, start, begin: () => gesture, click: () => {} });
  };

  const onPointerDown = (event: React.PointerEvent) => {
    if (playback().playing) setPlayback({ playing: false });
    const start = at(event, true);
    // No events of the mouse beside those of the pointer, and no text selected by a drag.
    event.preventDefault();
    (event.currentTarget as HTMLElement).focus({ preventScroll: true });
    event.currentTarget.setPointerCapture(event.pointerId);
    if (event.pointerType === "touch") {
      touches.current.set(event.pointerId, start);
      if (touches.current.size === 2) {
        cancel();
        return;
      }
    }
    if (event.button === 1 || (event.button === 0 && held.has("h"))) startPan(start);
    else if (event.button === 0) {
      const { view } = latest.current;
      if (rulers && start[0] < RULER !== start[1] < RULER) {
        const gesture = new GuideDrag(session, start[0] < RULER ? "x" : "y", null, view);
        begins({ gesture, start, begin: () => gesture, click: () => {} });
      } else {
        const stays = held.has("w") ? "anchor" : held.has("q") ? "picture" : held.has("a") ? "window" : null;
        const begin = gestureAt(session, view, start, event.shiftKey, stays);
        begins({ gesture: null, start, begin, click: click(start) });
      }
      freeze(view);
    }
  };

  const pinch = (id: number, point: Point) => {
    const [other] = [...touches.current].filter(([key]) => key !== id).map(([, place]) => place);
    const before = touches.current.get(id)!;
    touches.current.set(id, point);
    const factor = distance(point, other) / Math.max(distance(before, other), 1);
    zoomAbout([(before[0] + other[0]) / 2, (before[1] + other[1]) / 2], factor, [
      (point[0] - before[0]) / 2,
      (point[1] - before[1]) / 2,
    ]);
  };

  const onPointerMove = (event: PointerEvent) => {
    if (press.current) event.preventDefault();
    else if (touches.current.size === 2 && touches.current.has(event.pointerId)) pinch(event.pointerId, at(event));
    else hover(event);
  };

  const draw = (event: PointerEvent) => {
    const point = at(event);
    const now = press.current;
    if (!now) return;
    if (!now.gesture) {
      if (distance(point, now.start) < CLICK) return;
      now.gesture = now.begin();
      if (!now.gesture) {
        release();
        return;
      }
    }
    now.gesture.move(point, { free: event.ctrlKey || event.metaKey, straight: event.shiftKey, alt: event.altKey });
  };

  const moved = useRef(onPointerMove);
  moved.current = onPointerMove;
  const drawn = useRef(draw);
  drawn.current = draw;
  useEffect(() => {
    const box = area.current!;
    const move = (event: PointerEvent) => moved.current(event);
    box.addEventListener("pointermove", move);
    return () => box.removeEventListener("pointermove", move);
  }, [area]);

  return {
    onPointerDown,
    onPointerUp: (event: React.PointerEvent) => {
      touches.current.delete(event.pointerId);
      const now = release();
      if (!now) return;
      if (now.gesture) now.gesture.end();
      else now.click(event);
    },
    onPointerCancel: (event: React.PointerEvent) => {
      touches.current.delete(event.pointerId);
      cancel();
    },
    onWheel: (event: React.WheelEvent) => {
      if (!press.current) stage.onWheel(event);
    },
  };
}
