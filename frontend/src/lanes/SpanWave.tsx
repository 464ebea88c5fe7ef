import { useEffect, useRef } from "react";
import type { Layer } from "../api/client";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { inkOf } from "../theme/canvasColours";
import { toFrame, useScale } from "./scale";

/** How long the lanes rest before a wave is fetched again, in milliseconds. */
const CALM = 120;

/** The wave of what is heard of a layer, within its span, drawn at any zoom from samples of its own. */
export function SpanWave({ layer, start, length }: { layer: Layer; start: number; length: number }) {
  const session = useSession();
  const { revision } = useScene();
  const scale = useScale();
  const canvas = useRef<HTMLCanvasElement>(null);
  const from = Math.max(start, Math.floor(toFrame(scale, 0)));
  const to = Math.min(start + length, Math.ceil(toFrame(scale, scale.width)));
  const points = Math.max(Math.min(Math.round((to - from) * scale.frameWidth), 2_000), 1);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another revision may be heard otherwise
  useEffect(() => {
    const on = canvas.current;
    if (!on || to <= from) return;
    const stop = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const query = new URLSearchParams({ from: String(from), to: String(to), points: String(points) });
        const response = await fetch(`/api/scenes/${session.sceneId}/layers/${layer.id}/wave?${query}`, stop);
        if (response.ok) draw(on, new Float32Array(await response.arrayBuffer()));
      } catch {
        // Left as it was: it is fetched again with the next change.
      }
    }, CALM);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [session, layer.id, from, to, points, revision]);
  if (to <= from) return null;
  return (
    <canvas
      ref={canvas}
      data-testid="wave"
      aria-hidden
      style={{
        position: "absolute",
        top: 0,
        left: (from - start) * scale.frameWidth,
        width: (to - from) * scale.frameWidth,
        height: "100%",
        pointerEvents: "none",
      }}
    />
  );
}

function draw(canvas: HTMLCanvasElement, peaks: Float32Array) {
  const height = 28;
  canvas.width = peaks.length / 2;
  canvas.height = height;
  const context = canvas.getContext("2d")!;
  context.fillStyle = inkOf("act");
  for (let x = 0; x < canvas.width; x += 1) {
    const [low, high] = [Math.max(peaks[2 * x], -1), Math.min(peaks[2 * x + 1], 1)];
    const top = ((1 - high) * height) / 2;
    context.fillRect(x, top, 1, Math.max(((high - low) * height) / 2, 1));
  }
  canvas.dataset.drawn = `${peaks.length / 2}`;
}
