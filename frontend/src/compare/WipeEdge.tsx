import { useRef } from "react";
import { Box } from "../parts/styled";

/** The edge between two pictures that lie on one another, dragged across them or moved by the arrows. */
export function WipeEdge({ at, set }: { at: number; set: (at: number) => void }) {
  const held = useRef(false);
  const box = useRef<HTMLDivElement>(null);
  const follow = (event: React.PointerEvent) => {
    const { left, width } = box.current!.getBoundingClientRect();
    set(Math.min(Math.max((event.clientX - left) / width, 0), 1));
  };
  return (
    <Box
      ref={box}
      position="absolute"
      inset="0"
      cursor="ew-resize"
      role="slider"
      tabIndex={0}
      aria-label="Edge of the wipe"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      aria-valuetext={`${Math.round(at * 100)} % of A`}
      css={{ touchAction: "none" }}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
        follow(event);
      }}
      onPointerMove={(event) => held.current && follow(event)}
      onLostPointerCapture={() => {
        held.current = false;
      }}
      onKeyDown={(event) => {
        const step = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
        const end = { Home: 0, End: 1 }[event.key];
        if (step === undefined && end === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        set(end ?? Math.min(Math.max(at + (step! * (event.shiftKey ? 10 : 1)) / 100, 0), 1));
      }}
    >
      <Box
        position="absolute"
        top="0"
        bottom="0"
        left={`${at * 100}%`}
        width="2px"
        ml="-1px"
        bg="paper"
        boxShadow="0 0 0 1px var(--chakra-colors-ink)"
        pointerEvents="none"
      />
    </Box>
  );
}
