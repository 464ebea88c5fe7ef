import type { RecipeFacts } from "../api/client";
import { timecode } from "../geometry/times";
import { Select } from "../parts/Select";
import { Slider } from "../parts/Slider";
import { Flex, Text } from "../parts/styled";
import { useScene } from "../session/useScene";

type Values = Record<string, unknown>;

const FORCE = ["angle", "enlarge", "slide"];
const TIMES = ["draw_back", "strike", "rebound", "rest"];

interface Props {
  values: Values;
  set: (change: (before: Values) => Values) => void;
  /** The beat on which it strikes, in frames; empty where it begins at the playhead. */
  beat: string;
  setBeat: (beat: string) => void;
  first: RecipeFacts;
}

/** A blow by two sliders, harder and quicker than it comes, and on which beat it strikes. */
export function ImpactSheet({ values, set, beat, setBeat, first }: Props) {
  const { scene } = useScene();
  const given = (name: string) => Number(first.fields.find((field) => field.name === name)?.default ?? 0);
  const force = Math.round((Number(values.angle) / (given("angle") || 1)) * 100);
  const long = TIMES.reduce((sum, name) => sum + Number(values[name]), 0);
  const quick = Math.round((TIMES.reduce((sum, name) => sum + given(name), 0) / long) * 100);
  const harder = (share: number) =>
    set((before) => ({
      ...before,
      ...Object.fromEntries(FORCE.map((name) => [name, Math.round(given(name) * share) / 100])),
      slide: Math.round(Number(before.slide) * (share / Math.max(force, 1)) * 100) / 100,
    }));
  const quicker = (share: number) =>
    set((before) => ({
      ...before,
      ...Object.fromEntries(TIMES.map((name) => [name, Math.max(Math.round((given(name) * 100) / share), 1)])),
    }));
  const beats = (scene.beats ?? []).map((one): [string, string] => [
    String(one.frame),
    `${one.label || "beat"} · ${timecode(one.frame, scene)}`,
  ]);
  return (
    <>
      <Share label="Harder" value={force} set={harder} />
      <Share label="Quicker" value={quick} set={quicker} />
      {beats.length > 0 && (
        <Flex align="center" gap="2">
          <Text flex="1">Strikes on</Text>
          <Select
            label="Strikes on"
            width="140px"
            value={beat}
            options={[["", "from the playhead"], ...beats]}
            onChange={setBeat}
          />
        </Flex>
      )}
    </>
  );
}

function Share({ label, value, set }: { label: string; value: number; set: (share: number) => void }) {
  return (
    <Flex align="center" gap="2">
      <Text flex="1">{label}</Text>
      <Slider label={label} value={value} set={set} least={25} most={400} step={5} said={`${value} %`} />
      <Text width="42px" textAlign="right" color="quiet">
        {value} %
      </Text>
    </Flex>
  );
}
