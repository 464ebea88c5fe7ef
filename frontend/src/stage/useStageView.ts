import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { bounded } from "../acts/zoom";
import { centreOf, type Point, toScene, type View, viewOf } from "../geometry/layerGeometry";
import { setViewport, useViewport, viewport } from "../state/viewport";
import { useViewSettings } from "../state/viewSettings";
import { RULER } from "./hands/guide";

const MARGIN = 12;

/** How the scene lies in the stage, and how wheel and fingers change that. */
export function useStageView(size: Point) {
  const area = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState<Point>([800, 400]);
  const zoom = useViewport((state) => state.zoom);
  const centre = useViewport((state) => state.centre);
  const rulers = useViewSettings((state) => state.rulers);
  const due = viewOf(room, zoom, centre, size, MARGIN + (rulers ? RULER / 2 : 0));
  // While a gesture holds something the picture stays where it is, whatever becomes of the window.
  const [frozen, freeze] = useState<View | null>(null);
  const view = frozen ?? due;
  const latest = useRef({ view, room });
  latest.current = { view, room };

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom([entry.contentRect.width, entry.contentRect.height]));
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const box = area.current!;
    const stop = (event: WheelEvent) => event.preventDefault();
    box.addEventListener("wheel", stop, { passive: false });
    return () => box.removeEventListener("wheel", stop);
  }, []);

  /** A pointer's place on the stage; where the stage lies is asked once for each gesture, since asking costs a layout. */
  const corner = useRef<DOMRect | null>(null);
  const at = (event: { clientX: number; clientY: number }, fresh = false): Point => {
    if (fresh || !corner.current) corner.current = area.current!.getBoundingClientRect();
    return [event.clientX - corner.current.left, event.clientY - corner.current.top];
  };

  /** Zoom by a factor about a point of the stage, which the hand has moved meanwhile. */
  const zoomAbout = (point: Point, factor: number, moved: Point = [0, 0]) => {
    const { view, room } = latest.current;
    const [sx, sy] = toScene(view, point);
    const scale = bounded(view.scale * factor);
    const along = (axis: 0 | 1, at: number) => at - (point[axis] + moved[axis] - room[axis] / 2) / scale;
    setViewport({ zoom: scale, centre: [along(0, sx), along(1, sy)] });
  };

  const onWheel = (event: React.WheelEvent) => {
    if (event.ctrlKey || event.metaKey) {
      zoomAbout(at(event, true), Math.exp(-event.deltaY / 300));
      return;
    }
    const { view, room } = latest.current;
    const [dx, dy] = event.shiftKey && !event.deltaX ? [event.deltaY, 0] : [event.deltaX, event.deltaY];
    const [x, y] = viewport().zoom === null ? centreOf(view, room) : (viewport().centre ?? centreOf(view, room));
    setViewport({ zoom: view.scale, centre: [x + dx / view.scale, y + dy / view.scale] });
  };

  return { area, room, view, latest, rulers, freeze, at, zoomAbout, onWheel };
}

export type StageView = ReturnType<typeof useStageView>;
