import { useEffect, useRef } from "react";
import { timecode } from "../geometry/times";
import { Box, chakra } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { NAMES, toX, useScale } from "./scale";

/** How wide a label of the ruler is, and half of the flag, in pixels. */
const [LABEL, FLAG] = [28, 22];

/** The playhead over ruler and rows, moved without React. */
export function Playhead() {
  const session = useSession();
  const { scene } = useScene();
  const scale = useScale();
  const line = useRef<HTMLDivElement>(null);
  const flag = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const paint = () => {
      const { frame } = session.frames;
      const x = toX(scale, frame + 0.5);
      line.current!.style.transform = `translateX(${NAMES + x}px)`;
      line.current!.style.visibility = x < 0 || x > scale.width ? "hidden" : "";
      const time = timecode(frame, scene);
      if (flag.current!.textContent !== time) flag.current!.textContent = time;
      line.current!.dataset.frame = `${frame}`;
      // What would be half covered by the flag, which says the time itself, is not shown.
      for (const label of line.current!.parentElement!.querySelectorAll<SVGTextElement>("[data-label-at]")) {
        const at = Number(label.dataset.labelAt);
        const covered = at + LABEL > x - FLAG && at < x + FLAG;
        label.style.visibility = covered ? "hidden" : "";
      }
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session, scale, scene]);
  return (
    <Box
      ref={line}
      data-testid="playhead"
      position="absolute"
      top="0"
      bottom="0"
      left="0"
      width="0"
      borderLeftWidth="1.5px"
      borderColor="ink"
      pointerEvents="none"
      zIndex="1"
    >
      <chakra.span
        ref={flag}
        position="absolute"
        top="3px"
        left="0"
        transform="translateX(-50%)"
        bg="ink"
        color="paper"
        fontSize="caption"
        fontWeight={600}
        px="2"
        borderRadius="6px"
        lineHeight="17px"
      />
    </Box>
  );
}
