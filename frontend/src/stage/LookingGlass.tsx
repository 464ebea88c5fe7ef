import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { type Point, toScene, toScreen, type View } from "../geometry/layerGeometry";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { looking, lookNoMore, setLooking, useLooking } from "../state/looking";
import { roleColour } from "../theme/theme";
import { colourAt, type Seen } from "./colourAt";
import { lit } from "./hands/gesture";
import { magnetic, magnetsOf, pulled } from "./hands/magnets";

interface Props {
  view: View;
  picture: RefObject<HTMLCanvasElement | null>;
}

/** Over the stage while a colour is picked from it or a distance is measured on it. */
export function LookingGlass({ view, picture }: Props) {
  const picks = useLooking((state) => state.pick !== null);
  const measures = useLooking((state) => state.measure !== null);
  const spots = useLooking((state) => state.spot !== null);
  if (spots) return <Spot view={view} />;
  if (picks) return <Pipette view={view} picture={picture} />;
  return measures ? <Measure view={view} /> : null;
}

const OVER = { position: "absolute", inset: "0", cursor: "crosshair" } as const;

/** The colour under the pointer, and a press that takes it; Esc gives up. */
function Pipette({ view, picture }: Props) {
  const pick = useLooking((state) => state.pick);
  const [seen, setSeen] = useState<(Seen & { place: Point }) | null>(null);
  const look = (event: React.PointerEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const place: Point = [event.clientX - left, event.clientY - top];
    const found = colourAt(picture.current, toScene(view, place));
    setSeen(found && { ...found, place });
    return found;
  };
  return (
    <Box
      {...OVER}
      data-testid="pipette"
      css={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.preventDefault();
        if (event.button !== 0) return lookNoMore();
        const found = look(event);
        if (!found) return;
        setLooking({ pick: null });
        pick?.(found.hex);
      }}
      onPointerMove={look}
      onPointerLeave={() => setSeen(null)}
    >
      <Hint text="Press a colour on the stage to take it; Esc gives up." />
      {seen && (
        <Flex
          position="absolute"
          style={{ left: seen.place[0] + 14, top: seen.place[1] + 14 }}
          align="center"
          gap="1.5"
          bg="paper"
          borderRadius="full"
          px="2"
          fontSize="row"
          pointerEvents="none"
        >
          <Box width="14px" height="14px" borderRadius="full" borderWidth="1px" borderColor="edge" bg={seen.hex} />
          {seen.hex.endsWith("ff") ? seen.hex.slice(0, 7) : seen.hex}
        </Flex>
      )}
    </Box>
  );
}

/** The point of the scene under the pointer, held by what layers are held by; what holds it is lit until it is let go. */
function useHeldPoint(view: View) {
  const session = useSession();
  const letGo = useCallback(() => {
    lit.note = "";
    lit.guides = {};
    session.frames.touch();
  }, [session]);
  useEffect(() => letGo, [letGo]);
  const at = (event: React.PointerEvent): Point => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const point = toScene(view, [event.clientX - left, event.clientY - top]);
    lit.note = "";
    lit.guides = {};
    const keys = { free: event.ctrlKey || event.metaKey, straight: event.shiftKey, alt: event.altKey };
    const found = magnetic(keys) ? pulled(point, magnetsOf(session, session.frames.frame, []), view.scale) : point;
    session.frames.touch();
    return found;
  };
  return { at, letGo };
}

/** A press that takes a point of the scene, held by what layers are held by; Esc gives up. */
function Spot({ view }: { view: View }) {
  const { at } = useHeldPoint(view);
  return (
    <Box
      {...OVER}
      data-testid="spot"
      css={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.preventDefault();
        const take = looking().spot;
        const point = at(event);
        // The press is over for all who hear of it before the next may be meant for them.
        window.setTimeout(() => setLooking({ spot: null }), 0);
        if (event.button === 0) take?.(point);
      }}
      onPointerMove={at}
    >
      <Hint text="Press a place on the stage; Esc gives up." />
    </Box>
  );
}

/** Two points by a drag, held by what layers are held by: how far apart they are, and at which angle. */
function Measure({ view }: { view: View }) {
  const measure = useLooking((state) => state.measure);
  const held = useRef(false);
  const { at, letGo: free } = useHeldPoint(view);
  const letGo = () => {
    held.current = false;
    free();
  };
  const ends = measure === true || !measure ? null : [toScreen(view, measure.from), toScreen(view, measure.to)];
  return (
    <Box
      {...OVER}
      data-testid="measure"
      css={{ touchAction: "none" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.preventDefault();
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const from = at(event);
        held.current = true;
        setLooking({ measure: { from, to: from } });
      }}
      onPointerMove={(event) => {
        const to = at(event);
        if (held.current && measure && measure !== true) setLooking({ measure: { from: measure.from, to } });
      }}
      onPointerUp={letGo}
      onPointerCancel={letGo}
    >
      <Hint text={measure && measure !== true ? wordsOf(measure) : "Drag from one point to another; Esc ends it."} />
      {ends && (
        <svg width="100%" height="100%" style={{ position: "absolute", inset: 0, pointerEvents: "none" }} aria-hidden>
          {(["markHalo", "markCoral"] as const).map((ink, index) => (
            <g key={ink} stroke={roleColour(ink)} strokeWidth={index ? 1.5 : 4} fill="none">
              <line x1={ends[0][0]} y1={ends[0][1]} x2={ends[1][0]} y2={ends[1][1]} />
              {ends.map(([x, y], end) => (
                <path key={end ? "to" : "from"} d={`M${x - 5} ${y}h10M${x} ${y - 5}v10`} />
              ))}
            </g>
          ))}
        </svg>
      )}
    </Box>
  );
}

const short = (value: number) => `${Math.round(value * 10) / 10}`;

/** Distance and angle; the angle as rotation counts it, clockwise from the right. */
export function wordsOf({ from, to }: { from: Point; to: Point }): string {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const angle = (Math.atan2(dy, dx) * 180) / Math.PI;
  return `${short(Math.hypot(dx, dy))} px · ${short(angle)}° · ${short(dx)} across, ${short(dy)} down`;
}

function Hint({ text }: { text: string }) {
  return (
    <Text
      data-testid="looking"
      role="status"
      position="absolute"
      top="26px"
      left="50%"
      transform="translateX(-50%)"
      px="3"
      py="0.5"
      borderRadius="full"
      bg="paper"
      fontSize="row"
      fontWeight={600}
      whiteSpace="nowrap"
      pointerEvents="none"
    >
      {text}
    </Text>
  );
}
