import { useEffect, useRef } from "react";
import type { Scene } from "../api/client";
import { fps, timecode } from "../geometry/times";
import { Box } from "../parts/styled";
import { fetchWhereHovered } from "../play/clipsAhead";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { playback, setPlayback } from "../state/playback";
import { setSceneView, useSceneView } from "../state/sceneView";
import { roleColour } from "../theme/theme";
import { Beats } from "./Beats";
import { RulerStrip } from "./RulerStrip";
import { type LaneScale, toFrame, toX, useScale } from "./scale";

/** How long the pointer rests over a frame before its pictures are made ready, in milliseconds. */
const HOVERED = 15;
/** How wide a label is at most, in pixels. */
const LABEL = 34;
const SECONDS = [1, 2, 5, 10, 30, 60, 120, 300, 600, 1800];

/** The ruler: drag to scrub, with Shift to mark the range that is looped; beats stand on it. */
export function TimeRuler() {
  const session = useSession();
  const { scene } = useScene();
  const scale = useScale();
  const range = useSceneView((state) => state.range);
  const box = useRef<HTMLDivElement>(null);
  const scrubbing = useRef<"frame" | number | null>(null);
  const hovering = useRef(0);

  const at = (event: { clientX: number }) =>
    Math.floor(toFrame(scale, event.clientX - box.current!.getBoundingClientRect().left));
  const clamped = (event: { clientX: number }) => Math.min(Math.max(at(event), 0), scene.length - 1);
  const follow = (event: React.PointerEvent) => {
    const frame = clamped(event);
    if (scrubbing.current === "frame") session.frames.seek(frame);
    else if (scrubbing.current !== null) {
      const [first, last] = [Math.min(scrubbing.current, frame), Math.max(scrubbing.current, frame)];
      if (last > first) setPlayback({ loop: true });
      setSceneView(last > first ? { range: [first, last], loopOver: "range" } : { range: null, loopOver: "all" });
    }
  };
  useEffect(() => {
    const stop = () => {
      scrubbing.current = null;
    };
    for (const name of ["pointerup", "pointercancel"]) window.addEventListener(name, stop);
    return () => {
      for (const name of ["pointerup", "pointercancel"]) window.removeEventListener(name, stop);
    };
  }, []);

  return (
    <Box
      ref={box}
      flex="1"
      position="relative"
      overflow="hidden"
      cursor="ew-resize"
      data-testid="ruler"
      title="Drag to scrub; with Shift mark the range to loop over"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        if (playback().playing) setPlayback({ playing: false });
        scrubbing.current = event.shiftKey ? Math.max(at(event), 0) : "frame";
        follow(event);
      }}
      onPointerMove={(event) => {
        window.clearTimeout(hovering.current);
        if (scrubbing.current !== null) follow(event);
        else hovering.current = window.setTimeout(fetchWhereHovered, HOVERED, session, clamped(event));
      }}
      onPointerLeave={() => window.clearTimeout(hovering.current)}
      css={{ touchAction: "none" }}
    >
      <RulerStrip scale={scale} />
      {range && (
        <Box
          data-testid="range"
          position="absolute"
          top="0"
          height="9px"
          left={`${toX(scale, range[0])}px`}
          width={`${(range[1] + 1 - range[0]) * scale.frameWidth}px`}
          bg="actWash"
          borderWidth="1px"
          borderColor="act"
          borderRadius="4px"
          pointerEvents="none"
        />
      )}
      <Ticks scene={scene} scale={scale} />
      <Beats />
    </Box>
  );
}

/** Ticks in seconds:frames, as close as there is room. */
function Ticks({ scene, scale }: { scene: Scene; scale: LaneScale }) {
  const second = Math.max(Math.round(fps(scene)), 1);
  const fine = [1, 2, 5, 10, second].find((n) => n * scale.frameWidth > 5);
  const parts = [1, 5, 10].filter((n) => n < second);
  const steps = [...parts, ...SECONDS.map((n) => n * second)];
  const step = steps.find((n) => n * scale.frameWidth > 64) ?? second * 3600;
  const small = fine && fine < step ? fine : step;
  const first = Math.max(Math.floor(toFrame(scale, 0) / small) * small, 0);
  const last = Math.min(toFrame(scale, scale.width), scene.length);
  const marks = [];
  for (let frame = first; frame <= last; frame += small) {
    const x = toX(scale, frame);
    if (frame % step !== 0) marks.push(<path key={frame} d={`M${x} 19v6`} stroke={roleColour("edge")} />);
    else
      marks.push(
        <g key={frame}>
          <path d={`M${x} 13v12`} stroke={roleColour("quiet")} />
          {/* The last one stands before its tick, where it is read whole. */}
          <text
            x={x + 4 + LABEL > scale.width ? x - 4 : x + 4}
            y="13"
            data-label-at={x + 4 + LABEL > scale.width ? x - 4 - LABEL : x + 4}
            textAnchor={x + 4 + LABEL > scale.width ? "end" : "start"}
            style={{ fontSize: 11 }}
            fill={roleColour("quiet")}
          >
            {timecode(frame, scene)}
          </text>
        </g>,
      );
  }
  return (
    <svg width="100%" height="25" style={{ display: "block" }} aria-hidden>
      {marks}
    </svg>
  );
}
