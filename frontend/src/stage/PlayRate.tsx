import { useEffect, useRef } from "react";
import { fps } from "../geometry/times";
import { chakra } from "../parts/styled";
import type { Played } from "../play/player";
import { useScene } from "../session/useScene";
import { usePlayback } from "../state/playback";

/** While playing: the rate of frames that was reached, against the one that is due; and how much coarser it is painted. */
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
      const { share } = document.querySelector<HTMLElement>("[data-testid=picture]")!.dataset;
      const coarser = share && Number(share) < 1 ? ` · picture at ${Number(share) * 100} %` : "";
      const [reached, wanted] = [Math.min(rate, due), due].map((one) => Math.round(one * 10) / 10);
      if (rate) text.current!.textContent = `${reached} of ${wanted} fps${coarser}`;
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
