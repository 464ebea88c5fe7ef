import { useEffect, useState } from "react";
import type { Ease, Facts, KeyRef, Layer, Scene } from "../api/client";
import { labelOf } from "../document/properties";
import { easeOf, keyFrames, tracksOf } from "../document/tracks";
import { EaseCurve } from "../easing/EaseCurve";
import { EasePopover } from "../easing/EasePopover";
import { EaseText } from "../easing/EaseText";
import { useEase, usePresets } from "../easing/easeNames";
import { Block } from "../fields/Block";
import { timecode } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { usePlayback } from "../state/playback";
import { useSelection } from "../state/selection";

/** The easing of the selected keys, or of the stretches under the playhead. */
export function EasingBlock({ layers, scene, facts }: { layers: Layer[]; scene: Scene; facts: Facts }) {
  const session = useSession();
  const chosen = useSelection((state) => state.keys);
  const [frame, setFrame] = useState(session.frames.frame);
  const playing = usePlayback((state) => state.playing);

  useEffect(() => {
    if (playing) return;
    setFrame(session.frames.frame);
    return session.frames.subscribeCalmly(() => setFrame(session.frames.frame));
  }, [session, playing]);

  const here: KeyRef[] = chosen.length ? chosen : layers.flatMap((layer) => stretches(layer, frame));
  if (!here.length) return null;
  const what = [
    ...new Set(here.map((key) => labelOf(session.layer(key.layer) ?? layers[0], key.property, facts))),
  ].join(", ");
  const eases = here.map((key) => JSON.stringify(easeOf(session, key)));
  const mixed = eases.some((ease) => ease !== eases[0]);
  const count = here.length > 1 && (chosen.length || layers.length > 1) ? `${here.length} keys · ` : "";
  return (
    <Block
      name="Easing"
      beside={
        <Text color="quiet" fontSize="row" truncate flex="1" textAlign="right">
          {count}
          {what} from {timecode(here[0].frame, scene)}
        </Text>
      }
    >
      <Eased keys={here} ease={easeOf(session, here[0])} mixed={mixed} />
    </Block>
  );
}

function Eased({ keys, ease, mixed }: { keys: KeyRef[]; ease: Ease; mixed: boolean }) {
  const session = useSession();
  const facts = useEase(ease);
  const { common, own } = usePresets();
  const set = (value: Ease) => session.edit({ edit: "set_easing", keys, ease: value });
  const presets = [...common, ...own];
  const name = presets.find((preset) => JSON.stringify(preset.ease) === JSON.stringify(ease))?.name ?? "custom";
  return (
    <Flex gap="2" align="stretch">
      <EaseCurve curve={facts?.curve} width={78} height={56} />
      <Box flex="1" minWidth="0">
        <Flex gap="1.5">
          <Select
            label="Easing"
            value={mixed ? "several" : name}
            options={[
              ...(mixed ? ["several"] : []),
              ...presets.map((preset) => preset.name),
              ...(name === "custom" && !mixed ? ["custom"] : []),
            ]}
            onChange={(value) => {
              const preset = presets.find((preset) => preset.name === value);
              if (preset) void set(preset.ease as Ease);
            }}
          />
          <EasePopover keys={keys} ease={ease} placement="bottom-end">
            <Pill height="control" px="2.5">
              Edit…
            </Pill>
          </EasePopover>
        </Flex>
        <EaseText label="Easing in words" text={facts?.text} set={set} mt="1.5" width="100%" />
      </Box>
    </Flex>
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
