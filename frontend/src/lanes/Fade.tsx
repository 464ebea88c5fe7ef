import { useState } from "react";
import type { Edit, Layer } from "../api/client";
import { fps } from "../geometry/times";
import { Box } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useFrameDrag } from "./frameDrag";
import { useScale } from "./scale";

/** A fade of a layer's sound: a corner of its span that is dragged inwards, and the line that it makes. */
export function Fade({ layer, which }: { layer: Layer; which: "fade_in" | "fade_out" }) {
  const session = useSession();
  const { scene } = useScene();
  const { frameWidth } = useScale();
  const begin = useFrameDrag();
  const [tried, setTried] = useState<number | null>(null);
  const seconds = (layer.content as { sound?: Record<string, number> }).sound?.[which] ?? 0;
  const rate = fps(scene);
  const inwards = which === "fade_in" ? 1 : -1;
  const now = tried ?? seconds;
  const after = (by: number) =>
    Math.round(Math.min(Math.max(seconds + (by * inwards) / rate, 0), layer.span.length / rate) * 1000) / 1000;
  const made = (by: number) =>
    ({ edit: "set_content", layer: layer.id!, path: `sound.${which}`, value: after(by) }) as unknown as Edit;
  const width = now * rate * frameWidth;
  const side = which === "fade_in" ? "left" : "right";
  return (
    <>
      {now > 0 && (
        <svg
          aria-hidden
          viewBox="0 0 1 1"
          preserveAspectRatio="none"
          style={{ position: "absolute", top: 0, [side]: 0, width, height: "100%", pointerEvents: "none" }}
        >
          <path
            d={which === "fade_in" ? "M0 1L1 0" : "M0 0L1 1"}
            vectorEffect="non-scaling-stroke"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.5"
          />
        </svg>
      )}
      <Box
        position="absolute"
        top="-3px"
        style={{ [side]: Math.max(width - 4, 6) }}
        width="8px"
        height="8px"
        borderRadius="full"
        bg="well"
        borderWidth="1.5px"
        borderColor="act"
        cursor="ew-resize"
        data-testid={which}
        title={which === "fade_in" ? "Drag to fade the sound in" : "Drag to fade the sound out"}
        onPointerDown={(event) => {
          if (layer.locked) return;
          begin(event, {
            move: (by) => setTried(after(by)),
            end: (by) => void session.edit(made(by)).finally(() => setTried(null)),
            cancel: () => setTried(null),
          });
        }}
      />
    </>
  );
}
