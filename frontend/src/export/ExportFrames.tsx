import { useState } from "react";
import { timecode } from "../geometry/times";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { framesOver } from "../play/player";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

type Over = "all" | "span" | "range" | "keys";

const OVERS: Record<Over, string> = {
  all: "whole scene",
  span: "selected span",
  range: "marked range",
  keys: "selected keys",
};
const BEAT = "beat ";

/** The first and the last frame, as they are typed. */
export interface Ends {
  first: string;
  last: string;
}

/** Which frames: the whole scene, what is selected or marked, around a beat, or as typed. */
export function ExportFrames({ ends, set }: { ends: Ends; set: (ends: Ends) => void }) {
  const session = useSession();
  const { scene } = useScene();
  const [over, setOver] = useState("all");
  const [around, setAround] = useState("1");
  const overs = (["all", "span", "range", "keys"] as const).filter((which) => framesOver(session, which));
  const beats = (scene.beats ?? []).map((beat): [string, string] => [
    `${BEAT}${beat.frame}`,
    `around ${beat.label || "the beat"} · ${timecode(beat.frame, scene)}`,
  ]);

  const take = (from: number, to: number) => set({ first: timecode(from, scene), last: timecode(to, scene) });
  const aroundBeat = (beat: string, seconds: string) => {
    const reach = Number(seconds.replace(",", "."));
    if (!(reach > 0)) return;
    const frames = Math.round((reach * scene.frame_rate[0]) / scene.frame_rate[1]);
    const at = Number(beat.slice(BEAT.length));
    take(Math.max(at - frames, 0), Math.min(at + frames, scene.length - 1));
  };
  const choose = (which: string) => {
    setOver(which);
    if (which.startsWith(BEAT)) aroundBeat(which, around);
    else {
      const [from, to] = framesOver(session, which as Over) ?? [0, scene.length - 1];
      take(from, to);
    }
  };
  return (
    <Box>
      <Flex align="center" gap="2" flexWrap="wrap">
        <Select
          label="Frames of"
          width="150px"
          value={over}
          options={[...overs.map((which): [string, string] => [which, OVERS[which]]), ...beats]}
          onChange={choose}
          stays
        />
        {over.startsWith(BEAT) && (
          <>
            <TextInput
              aria-label="Seconds before and after"
              value={around}
              inputMode="decimal"
              width="44px"
              onChange={(event) => {
                setAround(event.target.value);
                aroundBeat(over, event.target.value);
              }}
            />
            <Text>s each side</Text>
          </>
        )}
      </Flex>
      <Flex align="center" gap="2" mt="1.5">
        <End label="First frame" value={ends.first} set={(first) => set({ ...ends, first })} />
        <Text>to</Text>
        <End label="Last frame" value={ends.last} set={(last) => set({ ...ends, last })} />
        <Text color="quiet">
          of {timecode(scene.length, scene)} · {scene.length} frames
        </Text>
      </Flex>
    </Box>
  );
}

function End({ label, value, set }: { label: string; value: string; set: (value: string) => void }) {
  return (
    <TextInput
      aria-label={label}
      value={value}
      inputMode="numeric"
      onChange={(event) => set(event.target.value)}
      width="64px"
    />
  );
}
