import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Ease, Facts, KeyRef, Layer, Scene } from "../api/client";
import { sum } from "../parts/sums";
import { TextInput } from "../parts/TextInput";
import { sayProblem, useChoices } from "../scene/choices";
import { keyFrames, labelOf, timecode, tracksOf } from "../scene/document";
import { useSession } from "../scene/session";
import { roleColour } from "../theme/theme";

type Numbers = [number, number, number, number];
const LANDING: Numbers = [0.1, 0.8, 0.3, 1];

/** Named curves offered for a move; the numbers of the CSS names come from the core. */
const PRESETS = ["linear", "ease", "ease-in", "ease-out", "ease-in-out", "soft landing", "hold"];

/** The easing of the selected keys, or of the stretches under the playhead. */
export function EasingBlock({ layer, scene, facts }: { layer: Layer; scene: Scene; facts: Facts }) {
  const session = useSession();
  const chosen = useChoices((state) => state.keys);
  const [frame, setFrame] = useState(session.frames.frame);
  const playing = useChoices((state) => state.playing);

  useEffect(() => {
    if (playing) return;
    setFrame(session.frames.frame);
    return session.frames.subscribe(() => setFrame(session.frames.frame));
  }, [session, playing]);

  const tracks = tracksOf(layer);
  const here: KeyRef[] = chosen.length ? chosen : stretches(layer, frame);
  if (!here.length) return null;
  const first = here[0];
  const owner = session.layer(first.layer) ?? layer;
  const track = tracksOf(owner)[first.property] ?? tracks[first.property];
  const ease =
    track?.keys?.find((key) => Math.abs(key.frame + owner.span.start - first.frame) < 1e-6)?.ease ?? "linear";
  const numbers = easeNumbers(ease, facts);

  const set = (value: Ease) => void session.edit({ edit: "set_easing", keys: here, ease: value });
  const preset = (name: string) => set(name === "soft landing" ? { bezier: LANDING } : (name as Ease));
  const current = nameOf(ease);
  const what = [...new Set(here.map((key) => labelOf(key.property, facts)))].join(", ");
  const count = here.length > 1 && chosen.length ? `${here.length} keys · ` : "";

  return (
    <Box borderTopWidth="1px" borderColor="edge" pt="2" pb="2" role="group" aria-label="Easing">
      <Flex justify="space-between" mb="1.5">
        <Text fontWeight={700}>Easing</Text>
        <Text color="quiet" fontSize="12px">
          {count}
          {what} from {timecode(first.frame, scene)}
        </Text>
      </Flex>
      <Flex gap="2" align="stretch">
        <Curve numbers={numbers} hold={ease === "hold"} />
        <Box flex="1">
          <chakra.select
            aria-label="Easing"
            value={current}
            onChange={(event) => {
              if (event.target.value !== "custom") preset(event.target.value);
              event.target.blur();
            }}
            width="100%"
            height="25px"
            bg="well"
            borderWidth="1px"
            borderColor="edge"
            borderRadius="7px"
            px="1"
          >
            {PRESETS.map((name) => (
              <option key={name}>{name}</option>
            ))}
            <option value="custom">custom</option>
          </chakra.select>
          <TextInput
            key={`${first.frame}.${first.property}.${numbers.join()}`}
            aria-label="cubic-bezier numbers"
            title="cubic-bezier: x1, y1, x2, y2"
            defaultValue={numbers.map((n) => Math.round(n * 1000) / 1000).join(", ")}
            disabled={ease === "hold"}
            mt="1.5"
            width="100%"
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Escape") event.currentTarget.value = numbers.join(", ");
              if (event.key !== "Enter") return;
              const given = readNumbers(event.currentTarget.value);
              if (given) set({ bezier: given });
              else
                sayProblem(
                  new Error(
                    `A curve takes four numbers x1, y1, x2, y2, with x within 0 and 1, and “${event.currentTarget.value}” is not that. Nothing was changed.`,
                  ),
                );
            }}
          />
        </Box>
      </Flex>
    </Box>
  );
}

function Curve({ numbers: [x1, y1, x2, y2], hold }: { numbers: Numbers; hold: boolean }) {
  const path = hold ? "M0 0H1V1" : `M0 0C${x1} ${y1} ${x2} ${y2} 1 1`;
  return (
    <svg
      width="78"
      height="56"
      viewBox="-0.1 -0.25 1.2 1.5"
      preserveAspectRatio="none"
      aria-hidden
      style={{ background: roleColour("panel"), borderRadius: 8, border: `1px solid ${roleColour("edge")}` }}
    >
      <g transform="translate(0 1) scale(1 -1)" fill="none">
        <path d="M0 0L1 1" stroke={roleColour("edge")} strokeWidth="1" vectorEffect="non-scaling-stroke" />
        <path d={path} stroke={roleColour("act")} strokeWidth="2" vectorEffect="non-scaling-stroke" />
      </g>
    </svg>
  );
}

/** The keys that begin the stretches in which a frame lies. */
function stretches(layer: Layer, frame: number): KeyRef[] {
  const found: KeyRef[] = [];
  for (const [name, track] of Object.entries(tracksOf(layer))) {
    const frames = keyFrames(layer, track);
    const before = frames.filter((key) => key <= frame);
    if (before.length && before.length < frames.length)
      found.push({ layer: layer.id!, property: name, frame: Math.max(...before) });
  }
  const latest = Math.max(...found.map((key) => key.frame));
  return found.filter((key) => key.frame === latest);
}

function easeNumbers(ease: Ease, facts: Facts): Numbers {
  if (typeof ease === "string") return (facts.easings[ease] as Numbers | undefined) ?? [0, 0, 1, 1];
  return "bezier" in ease ? ease.bezier : [0, 0, 1, 1];
}

function nameOf(ease: Ease): string {
  if (typeof ease === "string") return ease;
  return "bezier" in ease && ease.bezier.every((n, i) => n === LANDING[i]) ? "soft landing" : "custom";
}

function readNumbers(text: string): Numbers | null {
  const inner = text.replace(/^\s*cubic-bezier\s*\(|\)\s*;?\s*$/g, "");
  const parts = inner
    .split(/[,\s]+/)
    .filter(Boolean)
    .map(sum);
  if (parts.length !== 4 || parts.some((n) => n === null)) return null;
  const [x1, , x2] = parts as Numbers;
  return x1 >= 0 && x1 <= 1 && x2 >= 0 && x2 <= 1 ? (parts as Numbers) : null;
}
