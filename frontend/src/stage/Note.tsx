import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import { choices } from "../scene/choices";
import { useSession } from "../scene/session";
import { lit } from "./hands/gesture";

/** What a gesture is doing, in words, over the stage: what holds the pointer, or by how much a layer is turned. */
export function Note() {
  const session = useSession();
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const paint = () => {
      const names = choices().solo.map((id) => session.layer(id)?.name);
      const alone = names.length ? `Solo: ${names.join(", ")}. Other layers are not painted here.` : "";
      const text = (lit.note === "turn" ? turnWords(rotation()) : lit.note) || alone;
      box.current!.style.display = text ? "" : "none";
      if (box.current!.textContent !== text) box.current!.textContent = text;
    };
    const rotation = () => {
      const { selected } = choices();
      const arrays = session.frames.layer(selected[0]);
      return arrays ? row(arrays, arrays.values.rotation, session.frames.frame)[0] : 0;
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session]);
  return (
    <Box
      ref={box}
      data-testid="note"
      position="absolute"
      top="26px"
      left="50%"
      transform="translateX(-50%)"
      px="3"
      py="0.5"
      borderRadius="full"
      bg="ink"
      color="paper"
      fontSize="12px"
      fontWeight={600}
      pointerEvents="none"
    />
  );
}

function turnWords(degrees: number): string {
  const turns = Math.trunc(degrees / 360);
  const rest = Math.round((degrees - turns * 360) * 10) / 10;
  const told = `Rotation ${Math.round(degrees * 10) / 10}°`;
  return turns ? `${told}: ${turns} ${Math.abs(turns) === 1 ? "turn" : "turns"} and ${rest}°` : told;
}
