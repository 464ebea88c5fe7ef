import { useEffect, useRef } from "react";
import { api, need } from "../api/client";
import { Box, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { usePlayback } from "../state/playback";
import { useViewSettings } from "../state/viewSettings";

/** How long the picture rests before it is measured, in milliseconds. */
const REST = 200;
const [WIDE, HIGH] = [192, 100];
const LIGHTS = ["rgba(232,92,72,0.75)", "rgba(92,190,110,0.75)", "rgba(96,150,240,0.75)"];

/** A waveform and a histogram of the frame that rests, in a corner of the stage; where they are asked for. */
export function Scopes() {
  const shown = useViewSettings((state) => state.scopes);
  const playing = usePlayback((state) => state.playing);
  return shown && !playing ? <Both /> : null;
}

function Both() {
  const session = useSession();
  const { revision } = useScene();
  const wave = useRef<HTMLCanvasElement>(null);
  const histogram = useRef<HTMLCanvasElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each revision is measured again
  useEffect(() => {
    const { frames } = session;
    let asked = -1;
    let due = 0;
    let gone = false;
    const measure = async () => {
      const { frame } = frames;
      asked = frame;
      try {
        const path = { scene_id: session.sceneId };
        const found = await need(api.GET("/api/scenes/{scene_id}/measures", { params: { path, query: { frame } } }));
        if (gone || frame !== frames.frame || !wave.current || !histogram.current) return;
        paintWave(wave.current, found.waveform, found.levels);
        paintHistogram(histogram.current, found.histogram);
        wave.current.dataset.frame = `${frame}`;
      } catch {
        // The line is away, or the scene is gone: the next rest asks again.
        asked = -1;
      }
    };
    const later = () => {
      if (frames.frame === asked || frames.trying) return;
      window.clearTimeout(due);
      due = window.setTimeout(() => void measure(), REST);
    };
    later();
    const stop = frames.subscribe(later);
    return () => {
      gone = true;
      stop();
      window.clearTimeout(due);
    };
  }, [session, revision]);
  return (
    <Box
      data-testid="scopes"
      position="absolute"
      left="8px"
      bottom="8px"
      p="1.5"
      borderRadius="10px"
      color="#d9d7d0"
      pointerEvents="none"
      style={{ background: "#14181acc" }}
    >
      {(
        [
          [wave, "Waveform: brightness across the picture, from black below to white above"],
          [histogram, "Histogram: how much of the picture has how much red, green and blue"],
        ] as const
      ).map(([ref, label]) => (
        <Box key={label}>
          <Text fontSize="caption">{label.split(":")[0]}</Text>
          <canvas
            ref={ref}
            width={WIDE}
            height={HIGH}
            role="img"
            aria-label={label}
            style={{ width: WIDE, height: HIGH / 1.5, display: "block" }}
          />
        </Box>
      ))}
    </Box>
  );
}

/** Columns of how many pixels have each level, `levels` for each column, the darkest first. */
function paintWave(canvas: HTMLCanvasElement, counts: number[], levels: number) {
  const context = canvas.getContext("2d")!;
  const columns = counts.length / levels;
  const most = Math.max(...counts, 1);
  context.clearRect(0, 0, WIDE, HIGH);
  context.strokeStyle = "#ffffff33";
  for (const share of [0, 0.5, 1]) {
    context.beginPath();
    context.moveTo(0, share * (HIGH - 1) + 0.5);
    context.lineTo(WIDE, share * (HIGH - 1) + 0.5);
    context.stroke();
  }
  for (let column = 0; column < columns; column += 1)
    for (let level = 0; level < levels; level += 1) {
      const count = counts[column * levels + level];
      if (!count) continue;
      context.globalAlpha = Math.min(0.25 + Math.sqrt(count / most), 1);
      context.fillStyle = "#e9f3e0";
      const [wide, high] = [WIDE / columns, HIGH / levels];
      context.fillRect(column * wide, HIGH - (level + 1) * high, wide, high);
    }
  context.globalAlpha = 1;
}

/** How many pixels have each level, of red, green and blue. */
function paintHistogram(canvas: HTMLCanvasElement, lights: number[][]) {
  const context = canvas.getContext("2d")!;
  context.clearRect(0, 0, WIDE, HIGH);
  context.globalCompositeOperation = "lighter";
  const most = Math.max(...lights.flat(), 1);
  lights.forEach((counts, index) => {
    context.fillStyle = LIGHTS[index];
    counts.forEach((count, level) => {
      const high = Math.sqrt(count / most) * HIGH;
      const wide = WIDE / counts.length;
      context.fillRect(level * wide, HIGH - high, wide, high);
    });
  });
  context.globalCompositeOperation = "source-over";
}
