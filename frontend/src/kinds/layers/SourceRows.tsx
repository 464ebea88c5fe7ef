import { Repeat2, Snowflake } from "lucide-react";
import { useEffect, useState } from "react";
import { row } from "../../api/arrays";
import type { Edit, Layer } from "../../api/client";
import { NumberField } from "../../fields/NumberField";
import { RowLabel } from "../../fields/RowLabel";
import { timecode } from "../../geometry/times";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Flex, Text } from "../../parts/styled";
import { useSession } from "../../session/session";
import { useScene } from "../../session/useScene";

type SourceTime = NonNullable<Extract<Layer["content"], { kind?: "clip" }>["time"]>;

const OUTSIDE: [string, string][] = [
  ["hold", "hold"],
  ["nothing", "nothing"],
  ["loop", "loop"],
];

interface Props {
  layer: Layer;
  /** What its source is called. */
  what: string;
  /** The source's own frames a second, where it has one rate. */
  rate?: number;
  /** Rows that stand before those of what is outside. */
  children?: React.ReactNode;
}

/** How a source runs in its layer: start, speed, freeze, what is shown outside of it, its time keyed. */
export function SourceRows({ layer, what, rate, children }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const time = (layer.content as { time: SourceTime }).time;
  const keyed = Boolean(time.keyed);
  const set = (path: string, value: unknown): Edit =>
    ({ edit: "set_content", layer: layer.id!, path, value }) as unknown as Edit;
  const speed = (value: number, stretch = false): Edit => ({
    edit: "set_speed",
    layer: layer.id!,
    speed: value,
    stretch,
  });
  const at = (fps: number) => speed((Math.sign(time.speed ?? 100) * 100 * fps) / rate!, true);
  const frame = () => session.frames.frame;
  return (
    <>
      {!keyed && (
        <>
          <Line label="Start">
            <NumberField
              label="Source start"
              unit="s"
              width="57px"
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
              width="57px"
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
          {rate !== undefined && (
            <Line label="Rate">
              <NumberField
                label="Frames a second"
                unit="fps"
                width="57px"
                disabled={layer.locked}
                read={() => Math.round(rate * Math.abs(time.speed ?? 100) * 10) / 1000}
                attempt={(value) => session.try([at(value)])}
                keep={(value, run) => session.keep(run, at(value))}
              />
              <Text color="quiet" fontSize="row">
                of the {what}
              </Text>
            </Line>
          )}
        </>
      )}
      {children}
      <Line label="Before">
        <Select
          label="Before its beginning"
          width="120px"
          value={time.before ?? "hold"}
          options={OUTSIDE}
          disabled={layer.locked}
          onChange={(value) => void session.edit(set("time.before", value))}
        />
      </Line>
      <Line label="After">
        <Select
          label="After its end"
          width="120px"
          value={time.after ?? "hold"}
          options={OUTSIDE}
          disabled={layer.locked}
          onChange={(value) => void session.edit(set("time.after", value))}
        />
      </Line>
      {!keyed && (
        <Line label="Freeze">
          <Pill
            px="2"
            height="24px"
            look={time.freeze === null || time.freeze === undefined ? "plain" : "on"}
            aria-pressed={time.freeze !== null && time.freeze !== undefined}
            disabled={layer.locked}
            label={
              time.freeze === null || time.freeze === undefined
                ? "Freeze from here"
                : `Frozen from ${timecode(layer.span.start + time.freeze, scene)}`
            }
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
              ? "from here"
              : `from ${timecode(layer.span.start + time.freeze, scene)}`}
          </Pill>
        </Line>
      )}
      <Line label="Time">
        <Pill
          label={keyed ? "Let go of its keys" : "Key its time"}
          px="2"
          height="24px"
          look={keyed ? "on" : "plain"}
          aria-pressed={keyed}
          disabled={layer.locked}
          onClick={() => void session.edit({ edit: "key_source_time", layer: layer.id!, on: !keyed })}
        >
          {keyed ? "Let go of its keys" : "Key it"}
        </Pill>
      </Line>
    </>
  );
}

function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="1.5" minHeight="28px">
      <RowLabel>{label}</RowLabel>
      {children}
    </Flex>
  );
}

/** Which frame of the source is shown at the playhead, painted by itself. */
export function ShownFrame({ layer, rate, what }: { layer: Layer; rate: number[] | null; what: string }) {
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
      set(
        source === null ? `Scene ${here} shows nothing of the ${what}` : `Scene ${here} shows ${source} of the ${what}`,
      );
    };
    say();
    return frames.subscribeCalmly(say);
  }, [session, layer.id, rate, scene, what]);
  return (
    <Text fontSize="row" my="1" data-testid="source-frame">
      {words}
    </Text>
  );
}

/** The source's frame that a layer shows at the playhead; −1 where it shows none. */
function sourceFrame(session: ReturnType<typeof useSession>, id: string): number | null {
  const arrays = session.frames.layer(id);
  if (!arrays || arrays.source === null) return null;
  const { frame } = session.frames;
  return row(arrays, arrays.group.visible, frame)[0] ? row(arrays, arrays.source, frame)[0] : -1;
}
