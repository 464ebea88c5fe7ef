import { useState } from "react";
import type { Layer } from "../api/client";
import { usePresets } from "../easing/easeNames";
import { NumberField } from "../fields/NumberField";
import { TimeField } from "../fields/TimeField";
import { STATIONS } from "../geometry/layerGeometry";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { Select } from "../parts/Select";
import { Switch } from "../parts/Switch";
import { Flex, Text } from "../parts/styled";
import { useTryAndPlay } from "../play/tryAndPlay";
import { useSession } from "../session/session";
import { entranceOf, isAny, keepWays, lastWays, ORDERS, type Side, type Ways } from "./entrances";

interface Props {
  layers: Layer[];
  way: "in" | "out";
}

/** “Bring in…” and “Take out…”: the start or end of a motion, made from where the layers have landed. */
export function EntranceButton({ layers, way }: Props) {
  const [short, long] = way === "in" ? ["In…", "Bring in…"] : ["Out…", "Take out…"];
  const button = (
    <Pill height="24px" px="1.5" flex="1" fontSize="row" title={`${long} (${way === "in" ? "I" : "O"}: as last time)`}>
      {short}
    </Pill>
  );
  return (
    <Popover
      label={way === "in" ? "Bring in" : "Take out"}
      width="300px"
      placement="top-end"
      testId={way === "in" ? "bring-in" : "take-out"}
      trigger={button}
    >
      {(close) => <Form layers={layers} way={way} done={close} />}
    </Popover>
  );
}

const SIDES: [string, string][] = ["left", "right", "top", "bottom"].map((side) => [side, side]);
const ABOUT = "its anchor";

/** The ways, which may be mixed; what they make is tried on the stage while they are chosen. */
function Form({ layers, way, done }: Props & { done: () => void }) {
  const session = useSession();
  const { common, own } = usePresets();
  const [ways, setWays] = useState(() => lastWays(way));
  const [landed] = useState(session.frames.frame);
  const set = (change: Partial<Ways>) => setWays((was) => ({ ...was, ...change }));
  const ids = layers.map((layer) => layer.id!);
  const chosen = isAny(ways);
  const edit = entranceOf(way, ids, landed, ways);
  const [from, word] = way === "in" ? ["From", "in"] : ["To", "out"];
  const { length, stagger } = ways;
  const late = ids.length > 1 ? stagger * (ids.length - 1) : 0;
  const range: [number, number] = way === "in" ? [landed - length, landed + late] : [landed, landed + length + late];
  useTryAndPlay(chosen ? edit : null, range, landed);
  const take = () => {
    if (!chosen) return;
    keepWays(way, ways);
    done();
    void session.edit(edit).then(() => session.frames.seek(landed));
  };
  /** Enter takes it, but for a number that is being typed and a control that Enter presses. */
  const enter = (event: React.KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (event.key !== "Enter" || event.nativeEvent.isComposing || target.dataset.typing === "yes") return;
    if (target.matches("button:not([role=radio]), select")) return;
    event.preventDefault();
    event.stopPropagation();
    if (!event.repeat) take();
  };
  const number = (label: string, unit: string, key: "distance" | "scale" | "angle") => (
    <NumberField
      label={label}
      unit={unit}
      width="78px"
      read={() => ways[key] ?? 0}
      keep={(value) => set({ [key]: value })}
      attempt={(value) => set({ [key]: value })}
    />
  );

  return (
    <Flex direction="column" gap="2" onKeyDownCapture={enter}>
      <Text fontWeight={700}>{way === "in" ? "Bring in: it has landed here" : "Take out: it leaves from here"}</Text>
      <Choice
        label={way === "in" ? "From which side" : "To which side"}
        value={ways.side ?? "none"}
        options={[["none", "–"], ...SIDES]}
        onChange={(side) => set({ side: side === "none" ? null : (side as Side) })}
      />
      {ways.side && (
        <Row words={ways.distance === null ? `${from} outside the scene` : `${from} a distance of`}>
          <Select
            label="How far"
            width={ways.distance === null ? "96px" : "44px"}
            value={ways.distance === null ? "outside" : "distance"}
            options={[
              ["outside", "outside"],
              ["distance", "px"],
            ]}
            onChange={(next) => set({ distance: next === "outside" ? null : 40 })}
            stays
          />
          {ways.distance !== null && number("Distance", "px", "distance")}
        </Row>
      )}
      <Row words={`${from} scale${ways.scale === null ? "" : " at"}`}>
        <Select
          label="Scaled at"
          width={ways.scale === null ? "96px" : "92px"}
          value={ways.scale === null ? "" : (ways.station ?? ABOUT)}
          options={[["", "–"], ABOUT, ...Object.keys(STATIONS)]}
          onChange={(at) =>
            set(at ? { scale: ways.scale ?? 0, station: at === ABOUT ? null : at } : { scale: null, station: null })
          }
          stays
        />
        {ways.scale !== null && number("Scale", "%", "scale")}
      </Row>
      <Row words={`${from} turned by`}>{number("Turned by", "°", "angle")}</Row>
      <Row words={`Wiped ${word} ${way === "in" ? "from" : "to"}`}>
        <Select
          label={`Wiped ${word}`}
          width="96px"
          value={ways.wipe ?? ""}
          options={[["", "–"], ...SIDES]}
          onChange={(side) => set({ wipe: (side || null) as Side | null })}
          stays
        />
      </Row>
      <Switch text={`${from} transparent`} on={ways.transparent} set={(transparent) => set({ transparent })} />
      <Row words="Easing">
        <Select
          label="Easing of the move"
          width="132px"
          value={ways.ease === null ? "" : JSON.stringify(ways.ease)}
          options={[
            ["", way === "in" ? "soft landing" : "ease-in"],
            ...[...common, ...own].map(({ name, ease }): [string, string] => [JSON.stringify(ease), name]),
          ]}
          onChange={(ease) => set({ ease: ease ? JSON.parse(ease) : null })}
          stays
        />
      </Row>
      <Row words="Length of the move">
        <TimeField
          label="Length of the move"
          frame={ways.length}
          least={1}
          show={(n) => `${n} f`}
          keep={(length) => set({ length })}
        />
      </Row>
      {ids.length > 1 && (
        <Row words="One after another by">
          <TimeField
            label="Stagger"
            frame={ways.stagger}
            least={0}
            width="48px"
            show={(n) => `${n} f`}
            keep={(stagger) => set({ stagger })}
          />
          <Select
            label="Order"
            width="100px"
            value={ways.order}
            options={[...ORDERS]}
            onChange={(order) => set({ order: order as Ways["order"] })}
            stays
          />
        </Row>
      )}
      <Pill look="act" disabled={!chosen} onClick={take}>
        {way === "in" ? "Bring in" : "Take out"}
      </Pill>
    </Flex>
  );
}

function Row({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="1.5">
      <Text flex="1">{words}</Text>
      {children}
    </Flex>
  );
}
