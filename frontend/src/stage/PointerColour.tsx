import { type RefObject, useEffect, useRef } from "react";
import { toScene } from "../geometry/layerGeometry";
import { Box } from "../parts/styled";
import { useViewSettings } from "../state/viewSettings";
import { colourAt } from "./colourAt";
import type { StageView } from "./useStageView";

/** The colour under the pointer, as it is stored and as light, in a corner of the stage; where that is asked for. */
export function PointerColour({ stage, picture }: { stage: StageView; picture: RefObject<HTMLCanvasElement | null> }) {
  const shown = useViewSettings((state) => state.pointer);
  return shown ? <Told stage={stage} picture={picture} /> : null;
}

function Told({ stage, picture }: { stage: StageView; picture: RefObject<HTMLCanvasElement | null> }) {
  const box = useRef<HTMLDivElement>(null);
  const { area, latest, at } = stage;
  useEffect(() => {
    const field = area.current!;
    const told = box.current!;
    const move = (event: PointerEvent) => {
      const point = toScene(latest.current.view, at(event, true));
      const seen = colourAt(picture.current, point);
      told.style.visibility = seen ? "" : "hidden";
      if (!seen) return;
      const { hex, light } = seen;
      (told.firstElementChild as HTMLElement).style.background = hex;
      const alpha = hex.endsWith("ff") ? "" : ` · ${Math.round(Number.parseInt(hex.slice(7), 16) / 2.55)} %`;
      const words = `${hex.slice(0, 7)}${alpha} · linear ${light.map((part) => part.toFixed(3)).join(" ")}`;
      told.lastElementChild!.textContent = `${words} · ${Math.floor(point[0])}, ${Math.floor(point[1])}`;
    };
    const leave = () => {
      told.style.visibility = "hidden";
    };
    leave();
    field.addEventListener("pointermove", move);
    field.addEventListener("pointerleave", leave);
    return () => {
      field.removeEventListener("pointermove", move);
      field.removeEventListener("pointerleave", leave);
    };
  }, [area, latest, at, picture]);
  return (
    <Box
      ref={box}
      data-testid="pointer-colour"
      position="absolute"
      bottom="8px"
      right="104px"
      display="flex"
      alignItems="center"
      gap="1.5"
      px="2.5"
      py="0.5"
      borderRadius="full"
      bg="paper"
      fontSize="row"
      fontFamily="mono"
      pointerEvents="none"
    >
      <span style={{ width: 12, height: 12, borderRadius: 6, border: "1px solid #0004" }} />
      <span />
    </Box>
  );
}
