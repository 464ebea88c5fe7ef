import { useEffect, useRef } from "react";
import { fps } from "../geometry/times";
import { chakra } from "../parts/styled";
import type { Played } from "../play/player";
import { useScene } from "../session/useScene";
import { usePlayback } from "../state/playback";

/** While playing: the rate of frames that was reached, against the one that is due. */
export function Rate() {
  const { scene } = useScene();
  const playing = usePlayback((state) => state.playing);
  const speed = usePlayback((state) => state.speed);
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!playing) return;
    const due = fps(scene) * speed;
    const timer = setInterval(() => {
      const { rate = 0 } = (window as unknown as { mudskipperPlay?: Played }).mudskipperPlay ?? {};
      if (rate)
        text.current!.textContent = `${Math.min(Math.round(rate * 10) / 10, Math.round(due * 10) / 10)} of ${Math.round(due * 10) / 10} fps`;
    }, 400);
    return () => clearInterval(timer);
  }, [playing, scene, speed]);
  return (
    <chakra.span
      ref={text}
      data-testid="rate"
      position="absolute"
      left="8px"
      bottom="8px"
      px="2.5"
      borderRadius="full"
      bg="ink"
      color="paper"
      fontSize="caption"
      pointerEvents="none"
      visibility={playing ? "visible" : "hidden"}
    />
  );
}
