import { Box, chakra } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import type { Scene } from "../api/client";
import { timecode } from "../scene/document";
import { useSession } from "../scene/session";
import { NAMES } from "./Lanes";

/** The playhead over ruler and rows, moved without React. */
export function Playhead({ frameWidth, scene }: { frameWidth: number; scene: Scene }) {
  const session = useSession();
  const line = useRef<HTMLDivElement>(null);
  const flag = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const paint = () => {
      const x = NAMES + 10 + (session.frames.frame + 0.5) * frameWidth;
      line.current!.style.transform = `translateX(${x}px)`;
      flag.current!.textContent = timecode(session.frames.frame, scene);
      line.current!.dataset.frame = `${session.frames.frame}`;
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session, frameWidth, scene]);
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
        fontSize="11px"
        fontWeight={650}
        px="2"
        borderRadius="6px"
        lineHeight="17px"
      />
    </Box>
  );
}
