import { Flex, Text } from "@chakra-ui/react";
import { AudioLines, Film, Repeat2, Snowflake } from "lucide-react";
import { useEffect, useState } from "react";
import { row } from "../../api/arrays";
import type { Edit, Layer } from "../../api/client";
import { Block } from "../../fields/Block";
import { NumberField } from "../../fields/NumberField";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { useClips } from "../../studio/clips";
import { useScene } from "../../studio/document";
import { useSession } from "../../studio/session";
import { timecode } from "../../studio/times";
import type { LayerKind } from "./kind";
import { SoundRows } from "./SoundRows";

type ClipContent = Extract<Layer["content"], { kind?: "clip" }>;
type SourceTime = NonNullable<ClipContent["time"]>;

const OUTSIDE: [string, string][] = [
  ["hold", "hold"],
  ["nothing", "nothing"],
  ["loop", "loop"],
];

/** Which clip a layer shows, and how its source runs in it. */
function ClipBlock({ layer }: { layer: Layer }) {
  const heard = layer.content.kind === "sound";
  const what = heard ? "Sound" : "Clip";
  const content = layer.content as ClipContent;
  const session = useSession();
  const { scene } = useScene();
  const clips = useClips();
  const shown = clips.find(({ id }) => id === content.asset);
  const time = content.time as SourceTime;
  const keyed = Boolean(time.keyed);
  const set = (path: string, value: unknown): Edit =>
    ({ edit: "set_content", layer: layer.id!, path, value }) as unknown as Edit;
  const speed = (value: number, stretch = false): Edit => ({
    edit: "set_speed",
    layer: layer.id!,
    speed: value,
    stretch,
  });
  const frame = () => session.frames.frame;
  return (
    <Block
      name={what}
      beside={
        <Select
          label={what}
          value={content.asset}
          disabled={layer.locked}
          options={clips.flatMap(({ id, name, width }): [string, string][] =>
            heard !== width > 0 ? [[id, name]] : [],
          )}
          onChange={(asset) => void session.edit(set("asset", asset))}
        />
      }
    >
      {shown && (
        <Text color="quiet" fontSize="12px" mt="1">
          {!heard &&
            `${shown.width} × ${shown.height} px · ${shown.rate ? `${rateWords(shown.rate)} fps` : "own times"} · `}
          {shown.length.toFixed(2)} s
        </Text>
      )}
      {shown?.missing && (
        <Text bg="finding" color="findingInk" borderRadius="8px" px="2" py="1" mt="1" fontSize="12.5px">
          Its file is missing. Add the same file again, and it is found.
        </Text>
      )}
      {!heard && <ShownFrame layer={layer} rate={shown?.rate ?? null} />}
      {!keyed && (
        <>
          <Line label="Start">
            <NumberField
              label="Source start"
              unit="s"
              width="92px"
              disabled={layer.locked}
              read={() => Math.round((time.start ?? 0) * 1000) / 1000}
              attempt={(value) => session.try([set("time.start", value)])}
              keep={(value, run) => session.keep(run, set("time.start", value))}
            />
          </Line>
          <Line label="Speed">
            <NumberField
              label="Speed"
              unit="%"
              width="92px"
              disabled={layer.locked}
              read={() => time.speed ?? 100}
              attempt={(value) => session.try([speed(value)])}
              keep={(value, run) => session.keep(run, speed(value))}
            />
            <Pill
              px="2"
              height="24px"
              label="Play it backwards"
              look={(time.speed ?? 100) < 0 ? "on" : "plain"}
              aria-pressed={(time.speed ?? 100) < 0}
              disabled={layer.locked}
              onClick={() => void session.edit(speed(-(time.speed ?? 100)))}
            >
              <Repeat2 size={13} /> Backwards
            </Pill>
          </Line>
          <Line label="Freeze">
            <Pill
              px="2"
              height="24px"
              look={time.freeze === null || time.freeze === undefined ? "plain" : "on"}
              aria-pressed={time.freeze !== null && time.freeze !== undefined}
              disabled={layer.locked}
              title="Stand still from the playhead on"
              onClick={() =>
                void session.edit({
                  edit: "freeze_source",
                  layer: layer.id!,
                  frame: frame(),
                  off: time.freeze !== null && time.freeze !== undefined,
                })
              }
            >
              <Snowflake size={13} />
              {time.freeze === null || time.freeze === undefined
                ? "Freeze from here"
                : `Frozen from ${timecode(layer.span.start + time.freeze, scene)}`}
            </Pill>
          </Line>
        </>
      )}
      {shown?.sound && <SoundRows layer={layer} />}
      <Line label="Outside">
        <Select
          label="Before its beginning"
          width="86px"
          value={time.before ?? "hold"}
          options={OUTSIDE}
          disabled={layer.locked}
          onChange={(value) => void session.edit(set("time.before", value))}
        />
        <Text color="quiet" fontSize="12px">
          clip
        </Text>
        <Select
          label="After its end"
          width="86px"
          value={time.after ?? "hold"}
          options={OUTSIDE}
          disabled={layer.locked}
          onChange={(value) => void session.edit(set("time.after", value))}
        />
      </Line>
      <Line label="Time">
        <Pill
          px="2"
          height="24px"
          look={keyed ? "on" : "plain"}
          aria-pressed={keyed}
          disabled={layer.locked}
          onClick={() => void session.edit({ edit: "key_source_time", layer: layer.id!, on: !keyed })}
        >
          {keyed ? "Let go of its keys" : "Key its time"}
        </Pill>
      </Line>
    </Block>
  );
}

function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="1.5" minHeight="28px">
      <Text width="56px" flex="none" fontWeight={600} fontSize="12.5px" color="quiet">
        {label}
      </Text>
      {children}
    </Flex>
  );
}

/** Which frame of the source is shown at the playhead, painted by itself. */
function ShownFrame({ layer, rate }: { layer: Layer; rate: number[] | null }) {
  const session = useSession();
  const { scene } = useScene();
  const [words, set] = useState("");
  useEffect(() => {
    const { frames } = session;
    const say = () => {
      const at = sourceFrame(session, layer.id!);
      const source =
        at === null || at < 0 ? null : rate ? timecode(at, { frame_rate: rate as [number, number] }) : `frame ${at}`;
      const here = timecode(frames.frame, scene);
      set(source === null ? `Scene ${here} shows nothing of the clip` : `Scene ${here} shows ${source} of the clip`);
    };
    say();
    return frames.subscribeCalmly(say);
  }, [session, layer.id, rate, scene]);
  return (
    <Text fontSize="12.5px" my="1" data-testid="source-frame">
      {words}
    </Text>
  );
}

/** The source's frame that a layer shows at the playhead; −1 where it shows none. */
function sourceFrame(session: ReturnType<typeof useSession>, id: string): number | null {
  const arrays = session.frames.layer(id);
  if (!arrays) return null;
  const { frame } = session.frames;
  if (!row(arrays, arrays.group.visible, frame)[0]) return -1;
  const walk = (parts: typeof arrays.group.parts): number | null => {
    for (const part of parts) {
      const found = part.op === "group" ? walk(part.parts) : null;
      if (found !== null) return found;
      if (part.op === "image" && part.frame !== null) return row(arrays, part.frame, frame)[0];
    }
    return null;
  };
  return walk(arrays.group.parts);
}

const rateWords = ([frames, seconds]: number[]) => `${Math.round((frames / seconds) * 1000) / 1000}`;

export const clip: LayerKind = {
  kind: "clip",
  icon: Film,
  name: () => "clip",
  Block: ClipBlock,
  first: true,
};

export const sound: LayerKind = {
  kind: "sound",
  icon: AudioLines,
  name: () => "sound",
  Block: ClipBlock,
  first: true,
  heardOnly: true,
};
