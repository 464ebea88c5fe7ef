import { Box } from "@chakra-ui/react";
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { choices, choose, select, useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { CHEQUER } from "../theme/theme";
import { AnchorDrag, type Gesture, LayerDrag } from "./gestures";
import { Overlay } from "./Overlay";
import { Painter } from "./painter";
import { anchorAt, boxHolds, distance, type Point, toScene, toScreen, type View } from "./view";

const MARGIN = 22;
const GRIP = 16;

/** Keys held while the pointer works: Q and W move the anchor from anywhere. */
const held = new Set<string>();

/** The stage: the picture at the scene's own size, painted from resolved arrays, and the hands on it. */
export function Stage() {
  const session = useSession();
  const { scene } = useScene();
  const zoom = useChoices((state) => state.zoom);
  const area = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const gesture = useRef<{
    gesture: Gesture | null;
    start: Point;
    pointer: number;
    begin: () => Gesture | null;
  } | null>(null);
  const [room, setRoom] = useState<Point>([800, 400]);
  const [pan, setPan] = useState<Point>([0, 0]);
  const view = viewOf(room, pan, zoom, scene.width, scene.height);
  const latest = useRef(view);
  latest.current = view;

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom([entry.contentRect.width, entry.contentRect.height]));
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const context = canvas.current!.getContext("2d", { willReadFrequently: true })!;
    const painter = new Painter(session.pictures, session.frames.outlines);
    let wanted = 0;
    const paint = () => {
      wanted = 0;
      const { frames } = session;
      if (!frames.has(frames.frame)) return;
      const layers = frames.order.map((id) => frames.layer(id)).filter((layer) => layer !== undefined);
      painter.paint(context, scene.background ?? "#00000000", layers, frames.frame);
      canvas.current!.dataset.painted = `${frames.frame}`;
      if (frames.trying) canvas.current!.dispatchEvent(new Event("painted"));
      canvas.current!.dataset.ready = session.pictures.waiting ? "" : "yes";
    };
    const ask = () => {
      wanted ||= requestAnimationFrame(paint);
    };
    ask();
    const stop = session.frames.subscribe(ask);
    return () => {
      stop();
      cancelAnimationFrame(wanted);
    };
  }, [session, scene.background]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a canvas that changed its size has lost its picture
  useEffect(() => session.frames.notify(), [session, scene.width, scene.height]);

  const cancel = useCallback(() => {
    gesture.current?.gesture?.cancel();
    gesture.current = null;
  }, []);

  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea, select")) return;
      held.add(event.key.toLowerCase());
      if (event.key === "Escape" && gesture.current) {
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

  const at = (event: { clientX: number; clientY: number }): Point => {
    const box = area.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };

  const layersAt = (point: Point): string[] => {
    const here = toScene(latest.current, point);
    const { frames } = session;
    return [...frames.order].reverse().filter((id) => {
      const arrays = frames.layer(id);
      return arrays && !session.layer(id)?.locked && boxHolds(arrays, frames.frame, here);
    });
  };

  const size: Point = [scene.width, scene.height];

  const begin = (start: Point): (() => Gesture | null) => {
    const { selected, keep } = choices();
    const { frames } = session;
    const one = selected.length === 1 ? selected[0] : undefined;
    const arrays = one ? frames.layer(one) : undefined;
    const free = one && !session.layer(one)?.locked;
    if (one && arrays && free) {
      const mark = toScreen(latest.current, anchorAt(arrays, frames.frame));
      const stays = held.has("w") ? "anchor" : held.has("q") ? "picture" : null;
      if (stays || distance(mark, start) <= GRIP)
        return () => new AnchorDrag(session, one, latest.current, start, stays ?? keep, size);
    }
    const under = layersAt(start);
    const moved = selected.some((id) => under.includes(id)) ? selected : under.slice(0, 1);
    if (!moved.length) return () => null;
    return () => {
      if (moved !== selected) select(...moved);
      return new LayerDrag(session, moved, latest.current, start, size);
    };
  };

  const onPointerDown = (event: React.PointerEvent) => {
    if (event.button !== 0 || choices().playing) return;
    (event.currentTarget as HTMLElement).focus({ preventScroll: true });
    event.currentTarget.setPointerCapture(event.pointerId);
    const start = at(event);
    gesture.current = { gesture: null, start, pointer: event.pointerId, begin: begin(start) };
  };

  const onPointerMove = (event: React.PointerEvent) => {
    const now = gesture.current;
    if (!now) return;
    const point = at(event);
    if (!now.gesture) {
      if (distance(point, now.start) < 3) return;
      now.gesture = now.begin();
      if (!now.gesture) {
        gesture.current = null;
        return;
      }
    }
    now.gesture.move(point, { free: event.ctrlKey || event.metaKey, straight: event.shiftKey });
  };

  const onPointerUp = (event: React.PointerEvent) => {
    const now = gesture.current;
    gesture.current = null;
    if (!now) return;
    if (now.gesture) {
      now.gesture.end();
      return;
    }
    const under = layersAt(now.start);
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

  const onWheel = (event: React.WheelEvent) => {
    if (event.ctrlKey || event.metaKey) {
      const point = at(event);
      const [sx, sy] = toScene(view, point);
      const scale = Math.min(Math.max(view.scale * Math.exp(-event.deltaY / 300), 0.05), 16);
      choose({ zoom: scale });
      const centred = viewOf(room, [0, 0], scale, scene.width, scene.height);
      setPan([point[0] - sx * scale - centred.x, point[1] - sy * scale - centred.y]);
    } else if (zoom !== null) setPan(([x, y]) => [x - event.deltaX, y - event.deltaY]);
  };

  useEffect(() => {
    const box = area.current!;
    const stop = (event: WheelEvent) => event.preventDefault();
    box.addEventListener("wheel", stop, { passive: false });
    return () => box.removeEventListener("wheel", stop);
  }, []);

  useEffect(() => {
    if (zoom === null) setPan([0, 0]);
  }, [zoom]);

  const shown = Math.round(view.scale * 100);
  return (
    <Box
      ref={area}
      position="relative"
      width="100%"
      height="100%"
      overflow="hidden"
      bg="surround"
      tabIndex={0}
      role="application"
      aria-label={`Stage, ${shown} %. Drag layers to move them, drag the anchor's mark to place it.`}
      data-testid="stage"
      data-scale={view.scale}
      _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "-2px" }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={cancel}
      onWheel={onWheel}
      css={{ touchAction: "none" }}
    >
      <Box
        position="absolute"
        left={`${view.x}px`}
        top={`${view.y}px`}
        width={`${scene.width * view.scale}px`}
        height={`${scene.height * view.scale}px`}
        boxShadow="lg"
        css={{ background: CHEQUER }}
      >
        <canvas
          ref={canvas}
          width={scene.width}
          height={scene.height}
          data-testid="picture"
          aria-hidden
          style={{
            width: "100%",
            height: "100%",
            display: "block",
            imageRendering: view.scale >= 3 ? "pixelated" : "auto",
          }}
        />
      </Box>
      <Overlay view={view} size={size} room={room} />
    </Box>
  );
}

function viewOf([width, height]: Point, [px, py]: Point, zoom: number | null, w: number, h: number): View {
  const fit = Math.min((width - 2 * MARGIN) / w, (height - 2 * MARGIN) / h);
  const scale = zoom ?? Math.max(Math.min(fit, 1), 0.02);
  return { scale, x: Math.round((width - w * scale) / 2 + px), y: Math.round((height - h * scale) / 2 + py) };
}
