import { Box, Flex, Text } from "@chakra-ui/react";
import { ChevronsDownUp, ChevronsUpDown } from "lucide-react";
import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Layer, Track } from "../api/client";
import { KeySteps, Pebble } from "../panel/Keying";
import { IconButton } from "../parts/IconButton";
import { choose, useChoices } from "../scene/choices";
import { factsOf, keyFrames, labelOf, useFacts } from "../scene/document";
import { useSession } from "../scene/session";
import { LaneCurve } from "./LaneCurve";
import { PebbleMark } from "./PebbleMark";
import { laneHeight } from "./rows";
import { NAMES, shows, toX, useScale } from "./scale";

interface Props {
  layer: Layer;
  name: string;
  track: Track;
}

/** One property over time: its state of keying, its value now, its curve, its keys, and where a change would make one. */
export function PropertyLane({ layer, name, track }: Props) {
  const facts = useFacts();
  const scale = useScale();
  const id = layer.id!;
  const height = useChoices((state) => laneHeight(state.tall, id, name));
  const tall = height > 60;
  const { role } = factsOf(name, facts);
  const label = labelOf(name, facts);
  const colour = typeof track.rest === "string";
  return (
    <Flex height={`${height}px`} borderBottomWidth="1px" borderColor="edge" data-testid={`lane-${name}`}>
      <Flex
        width={`${NAMES}px`}
        flex="none"
        align="center"
        alignSelf={tall ? "flex-start" : undefined}
        height="26px"
        gap="1.5"
        pl="5"
        pr="1"
        borderRightWidth="1px"
        borderColor="edge"
      >
        <Pebble layer={layer} name={name} label={label} track={track} tone={role} />
        <Text color={role} fontWeight={600} fontSize="12.5px" flex="1" truncate>
          {label}
        </Text>
        {!colour && <Now layer={id} name={name} />}
        <KeySteps layer={layer} name={name} label={`${label} in the lanes`} track={track} />
        <IconButton
          label={tall ? `Make the lane of ${label} lower` : `Make the lane of ${label} taller`}
          disabled={colour}
          onClick={() => choose((state) => ({ tall: { ...state.tall, [`${id}.${name}`]: !tall } }))}
        >
          {tall ? <ChevronsDownUp size={12} /> : <ChevronsUpDown size={12} />}
        </IconButton>
      </Flex>
      <Box flex="1" position="relative" overflow="hidden" bg={tall ? "well" : undefined}>
        <LaneCurve layer={layer} name={name} track={track} height={height} tone={role} />
        <GhostPebble layer={layer} track={track} tone={role} />
        {keyFrames(layer, track)
          .filter((frame) => shows(scale, frame, frame))
          .map((frame) => (
            <PebbleMark
              key={frame}
              frame={frame}
              tone={role}
              top={tall ? height - 11 : undefined}
              label={`Key of ${label} at frame ${frame}`}
              refs={[{ layer: id, property: name, frame }]}
            />
          ))}
      </Box>
    </Flex>
  );
}

/** The value at the playhead. */
function Now({ layer, name }: { layer: string; name: string }) {
  const session = useSession();
  const text = useRef<HTMLParagraphElement>(null);
  useEffect(() => {
    const paint = () => {
      const arrays = session.frames.layer(layer);
      const numbers = arrays && name in arrays.values ? row(arrays, arrays.values[name], session.frames.frame) : [];
      const factor = name === "anchor" ? 100 : 1;
      const told = [...numbers].map((n) => Math.round(n * factor * 10) / 10).join(" × ");
      if (text.current!.textContent !== told) text.current!.textContent = told;
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session, layer, name]);
  return <Text ref={text} color="quiet" fontSize="11.5px" whiteSpace="nowrap" />;
}

/** At the playhead, on a keyed property with no key there: the key that a change would make. */
function GhostPebble({ layer, track, tone }: { layer: Layer; track: Track; tone: string }) {
  const session = useSession();
  const scale = useScale();
  const mark = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const paint = () => {
      const { frame } = session.frames;
      const frames = keyFrames(layer, track);
      const inside = frame >= layer.span.start && frame < layer.span.start + layer.span.length;
      const on = frames.length > 0 && inside && !frames.some((key) => Math.abs(key - frame) < 1e-6);
      mark.current!.style.display = on ? "" : "none";
      mark.current!.style.left = `${toX(scale, frame + 0.5) - 4}px`;
    };
    paint();
    return session.frames.subscribe(paint);
  });
  return (
    <Box
      ref={mark}
      data-testid="ghost-pebble"
      title="A change here makes a key"
      position="absolute"
      top="6px"
      width="8px"
      height="13px"
      borderRadius="full"
      borderWidth="1.5px"
      borderStyle="dashed"
      borderColor={tone}
      bg="paper"
    />
  );
}
