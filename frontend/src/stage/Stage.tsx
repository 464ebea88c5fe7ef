import { Box } from "@chakra-ui/react";
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { hold, onMoves } from "../parts/press";
import { choices, choose, select, useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { useLook } from "../scene/look";
import { Rate } from "../scene/Rate";
import { useSession } from "../scene/session";
import { isKeyed } from "../scene/tracks";
import { CHEQUER } from "../theme/theme";
import { AnchorDrag } from "./hands/anchor";
import type { Gesture } from "./hands/gesture";
import { GuideDrag, RULER } from "./hands/guide";
import { HandleDrag } from "./hands/handle";
import { Marquee } from "./hands/marquee";
import { LayerDrag } from "./hands/move";
import { PanDrag } from "./hands/pan";
import { PathKeyDrag, TangentDrag } from "./hands/path";
import { TurnDrag } from "./hands/turn";
import { cursorOf, handleBox, handled, hitAt, layersAt, lockedAt, ringIsLit } from "./hits";
import { Overlay } from "./Overlay";
import { Rulers } from "./Rulers";
import { SoloNote } from "./SoloNote";
import { useGhosts } from "./useGhosts";
import { useMarks } from "./useMarks";
import { usePicture } from "./usePicture";
import { centreOf, distance, type Point, toScene, type View, viewOf } from "./view";
import { bounded } from "./zoom";

const MARGIN = 22;
const CLICK = 3;

/** Keys held while the pointer works: Q and W move the anchor from anywhere, H pans. */
const held = new Set<string>();

interface Press {
  gesture: Gesture | null;
  start: Point;
  begin: () => Gesture | null;
  click: (event: React.PointerEvent) => void;
  listening?: AbortController;
  ended?: () => void;
}

/** The stage: the picture at the scene's own size, painted from resolved arrays, and the hands on it. */
export function Stage() {
  const session = useSession();
  const { scene } = useScene();
  const zoom = useChoices((state) => state.zoom);
  const rulers = useLook((state) => state.rulers);
  const surround = useLook((state) => state.surround);
  const outlines = useLook((state) => state.outlines);
  const area = useRef<HTMLDivElement>(null);
  const press = useRef<Press | null>(null);
  const touches = useRef(new Map<number, Point>());
  const [room, setRoom] = useState<Point>([800, 400]);
  const centre = useChoices((state) => state.centre);
  const size: Point = [scene.width, scene.height];
  const due = viewOf(room, zoom, centre, size, MARGIN + (rulers ? RULER / 2 : 0));
  // While a gesture holds something the picture stays where it is, whatever becomes of the window.
  const [frozen, setFrozen] = useState<View | null>(null);
  const view = frozen ?? due;
  const latest = useRef({ view, room });
  latest.current = { view, room };
  const selected = useChoices((state) => state.selected);
  const keep = useChoices((state) => state.keep);
  const one = selected.length === 1 ? session.layer(selected[0]) : undefined;
  const beside = Boolean(one && !one.locked && keep === "picture" && isKeyed(one));
  const { picture, moving } = usePicture(view);
  const ghosts = useGhosts(view);
  const marks = useMarks(view, room, beside);

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom([entry.contentRect.width, entry.contentRect.height]));
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, []);

  /** A press begins: from here on its moves are heard as they are made. */
  const begins = (next: Press) => {
    release();
    const listening = new AbortController();
    press.current = { ...next, listening, ended: hold(cancel) };
    onMoves(area.current!, (event) => drawn.current(event), { signal: listening.signal });
  };

  const release = useCallback(() => {
    const last = press.current;
    press.current = null;
    last?.listening?.abort();
    last?.ended?.();
    setFrozen(null);
    return last;
  }, []);

  const cancel = useCallback(() => release()?.gesture?.cancel(), [release]);

  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea, select")) return;
      held.add(event.key.toLowerCase());
      if (event.key === "Escape" && press.current) {
        event.stopImmediatePropagation();
        cancel();
      }
    };
    const up = (event: KeyboardEvent) => held.delete(event.key.toLowerCase());
    const blur = () => held.clear();
    window.addEventListener("keydown", down, true);
    window.addEventListener("keyup", up, true);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("keydown", down, true);
      window.removeEventListener("keyup", up, true);
      window.removeEventListener("blur", blur);
    };
  }, [cancel]);

  /** A pointer's place on the stage; where the stage lies is asked once for each gesture, since asking costs a layout. */
  const corner = useRef<DOMRect | null>(null);
  const at = (event: { clientX: number; clientY: number }, fresh = false): Point => {
    if (fresh || !corner.current) corner.current = area.current!.getBoundingClientRect();
    return [event.clientX - corner.current.left, event.clientY - corner.current.top];
  };

  const begin = (start: Point, shift: boolean): (() => Gesture | null) => {
    const { selected, keep } = choices();
    const { view } = latest.current;
    const free = handled(session);
    const ids = free.map((layer) => layer.id!);
    const stays = held.has("w") ? "anchor" : held.has("q") ? "picture" : null;
    if (stays && ids.length === 1 && session.frames.layer(ids[0]))
      return () => new AnchorDrag(session, ids[0], view, start, stays);
    const hit = hitAt(session, view, start);
    if (hit.kind === "anchor") return () => new AnchorDrag(session, ids[0], view, start, keep);
    if (hit.kind === "handle") return () => new HandleDrag(session, ids, hit.name, view, start);
    if (hit.kind === "ring") return () => new TurnDrag(session, ids, view, start);
    if (hit.kind === "guide") return () => new GuideDrag(session, hit.axis, hit.place, view);
    if (hit.kind === "tangent")
      return () => new TangentDrag(session, hit.layer, hit.frame, hit.side, hit.key, hit.other, view);
    if (hit.kind === "key") {
      return () => {
        choose({ pathKey: { layer: hit.layer, frame: hit.frame } });
        return new PathKeyDrag(session, hit.layer, hit.frame, hit.point, hit.position, view, start);
      };
    }
    if (hit.kind === "nothing") {
      const locked = lockedAt(session, view, start);
      return () => (locked.length ? new LayerDrag(session, locked, view, start) : new Marquee(session, view, start));
    }
    // A locked layer that is selected holds its place: no hand reaches what lies behind it.
    const locked = lockedAt(session, view, start);
    if (locked.length && !shift) return () => new LayerDrag(session, locked, view, start);
    const holds = ids.some((id) => hit.ids.includes(id));
    if (shift && !holds) return () => new Marquee(session, view, start);
    const moved = holds ? ids : hit.ids.slice(0, 1);
    return () => {
      if (moved.join() !== selected.join()) select(...moved);
      return new LayerDrag(session, moved, view, start);
    };
  };

  /** A click: the layer on top, again the one below; Shift adds; on a key of the path, its handles. */
  const click = (start: Point) => (event: React.PointerEvent) => {
    const { view } = latest.current;
    const hit = hitAt(session, view, start);
    if (hit.kind === "key") {
      choose({ pathKey: { layer: hit.layer, frame: hit.frame } });
      return;
    }
    if (hit.kind === "handle" || hit.kind === "tangent") return;
    const under = layersAt(session, view, start);
    const { selected } = choices();
    if (event.shiftKey && under[0]) {
      const has = selected.includes(under[0]);
      select(...(has ? selected.filter((id) => id !== under[0]) : [...selected, under[0]]));
      return;
    }
    const place = selected.length === 1 ? under.indexOf(selected[0]) : -1;
    const next = under.length ? under[(place + 1) % under.length] : undefined;
    select(...(next ? [next] : []));
  };

  const zoomAbout = (point: Point, factor: number, moved: Point = [0, 0]) => {
    const { view, room } = latest.current;
    const [sx, sy] = toScene(view, point);
    const scale = bounded(view.scale * factor);
    const along = (axis: 0 | 1, at: number) => at - (point[axis] + moved[axis] - room[axis] / 2) / scale;
    choose({ zoom: scale, centre: [along(0, sx), along(1, sy)] });
  };

  const startPan = (start: Point) => {
    const { view, room } = latest.current;
    const from = centreOf(view, room);
    choose({ zoom: view.scale, centre: from });
    const gesture = new PanDrag(start, from, view.scale, (centre) => choose({ centre }));
    begins({ gesture, start, begin: () => gesture, click: () => {} });
  };

  const onPointerDown = (event: React.PointerEvent) => {
    if (choices().playing) choose({ playing: false });
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
    if (event.button === 1 || (event.button === 0 && held.has("h"))) {
      event.preventDefault();
      startPan(start);
    } else if (event.button === 0) {
      if (rulers && start[0] < RULER !== start[1] < RULER) {
        const gesture = new GuideDrag(session, start[0] < RULER ? "x" : "y", null, latest.current.view);
        begins({ gesture, start, begin: () => gesture, click: () => {} });
        setFrozen(latest.current.view);
      } else {
        begins({ gesture: null, start, begin: begin(start, event.shiftKey), click: click(start) });
        setFrozen(latest.current.view);
      }
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

  const hover = (event: PointerEvent) => {
    const point = at(event, true);
    const { view } = latest.current;
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

  const moved = useRef(onPointerMove);
  moved.current = onPointerMove;
  const drawn = useRef(draw);
  drawn.current = draw;
  useEffect(() => {
    const box = area.current!;
    const move = (event: PointerEvent) => moved.current(event);
    box.addEventListener("pointermove", move);
    return () => box.removeEventListener("pointermove", move);
  }, []);

  const onPointerUp = (event: React.PointerEvent) => {
    touches.current.delete(event.pointerId);
    const now = release();
    if (!now) return;
    if (now.gesture) now.gesture.end();
    else now.click(event);
  };

  const onWheel = (event: React.WheelEvent) => {
    if (press.current) return;
    if (event.ctrlKey || event.metaKey) {
      zoomAbout(at(event, true), Math.exp(-event.deltaY / 300));
      return;
    }
    const { view, room } = latest.current;
    const [dx, dy] = event.shiftKey && !event.deltaX ? [event.deltaY, 0] : [event.deltaX, event.deltaY];
    const [x, y] = choices().zoom === null ? centreOf(view, room) : (choices().centre ?? centreOf(view, room));
    choose({ zoom: view.scale, centre: [x + dx / view.scale, y + dy / view.scale] });
  };

  useEffect(() => {
    const box = area.current!;
    const stop = (event: WheelEvent) => event.preventDefault();
    box.addEventListener("wheel", stop, { passive: false });
    return () => box.removeEventListener("wheel", stop);
  }, []);

  const whole = {
    width: "100%",
    height: "100%",
    display: "block",
    imageRendering: view.scale >= 3 ? "pixelated" : "auto",
  };
  const ground = { light: "surroundLight", mid: "surround", dark: "surroundDark" }[surround];
  const over = { ...whole, position: "absolute", inset: 0, display: "none", pointerEvents: "none" };
  // The line of the focus is drawn around the stage, not on it: an outline would be repainted at every move within.
  return (
    <Box height="100%" padding="2px" bg={ground} css={{ "&:has(> :focus-visible)": { background: "{colors.act}" } }}>
      <Box
        ref={area}
        position="relative"
        width="100%"
        height="100%"
        overflow="hidden"
        bg={ground}
        tabIndex={0}
        role="application"
        aria-label={`Stage, ${Math.round(view.scale * 100)} %. Drag layers to move them, drag the anchor's mark to place it.`}
        data-testid="stage"
        data-scale={view.scale}
        outline="none"
        onPointerDown={onPointerDown}
        onPointerUp={onPointerUp}
        onPointerCancel={(event) => {
          touches.current.delete(event.pointerId);
          cancel();
        }}
        onWheel={onWheel}
        css={{ touchAction: "none", contain: "strict" }}
      >
        <Box
          position="absolute"
          left={`${view.x}px`}
          top={`${view.y}px`}
          width={`${scene.width * view.scale}px`}
          height={`${scene.height * view.scale}px`}
          boxShadow="lg"
          visibility={outlines ? "hidden" : "visible"}
          css={{ background: CHEQUER }}
        >
          <canvas
            ref={picture}
            width={scene.width}
            height={scene.height}
            data-testid="picture"
            aria-hidden
            style={whole as React.CSSProperties}
          />
          <canvas ref={moving} data-testid="moving" aria-hidden style={over as React.CSSProperties} />
          <canvas
            ref={ghosts}
            data-testid="ghosts"
            aria-hidden
            style={{ ...over, opacity: 0.34 } as React.CSSProperties}
          />
        </Box>
        <canvas
          ref={marks}
          data-testid="marks"
          aria-hidden
          style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}
        />
        <Overlay view={view} room={room} beside={beside} />
        {rulers && <Rulers view={view} room={room} />}
        <SoloNote />
        <Rate />
      </Box>
    </Box>
  );
}
