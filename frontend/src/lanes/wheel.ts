import { type RefObject, useEffect } from "react";
import { setSceneView } from "../state/sceneView";
import { EDGE, END, type LaneScale, NAMES, toFrame } from "./scale";

/** Pixels that a frame is wide at most. */
const MOST = 200;

/** Ctrl or Cmd and the wheel widen the lanes about the pointer; sideways, or with Shift, the wheel goes along them. */
export function useLaneWheel(area: RefObject<HTMLDivElement | null>, scale: LaneScale, length: number) {
  useEffect(() => {
    const box = area.current!;
    const wheel = (event: WheelEvent) => {
      const zooms = event.ctrlKey || event.metaKey;
      const along = event.deltaX || (event.shiftKey ? event.deltaY : 0);
      if (!zooms && !along) return;
      event.preventDefault();
      const x = event.clientX - box.getBoundingClientRect().left - NAMES;
      setSceneView(({ laneZoom, laneFrom }) => {
        const fit = scale.frameWidth / laneZoom;
        const zoom = zooms ? Math.max(Math.min(laneZoom * Math.exp(-event.deltaY / 300), MOST / fit), 1) : laneZoom;
        const width = fit * zoom;
        const from = zooms ? toFrame({ ...scale, from: laneFrom }, x) - (x - EDGE) / width : laneFrom + along / width;
        const most = Math.max(length - (scale.width - EDGE - END) / width, 0);
        return { laneZoom: zoom, laneFrom: Math.min(Math.max(from, 0), most) };
      });
    };
    box.addEventListener("wheel", wheel, { passive: false });
    return () => box.removeEventListener("wheel", wheel);
  }, [area, scale, length]);
}
