import { Eye, EyeOff, Trash2 } from "lucide-react";
import type { Layer } from "../../api/client";
import { hasItems, hasWords } from "../../document/contents";
import { factsOf } from "../../document/properties";
import { tracksOf } from "../../document/tracks";
import { NumberField } from "../../fields/NumberField";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { UNREAD } from "../../kinds/layers/PaintRow";
import { type Act, openMenuBelow } from "../../parts/FloatMenu";
import { IconButton } from "../../parts/IconButton";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Box, Flex } from "../../parts/styled";
import { Toggle } from "../../parts/Toggle";
import { type Cascade, cascadeEdits, type useCascadeFacts } from "../../session/cascades";
import { useFontFacts } from "../../session/projectFonts";
import { useSession } from "../../session/session";
import { useFacts } from "../../session/useScene";
import { PropertyRow } from "../PropertyRow";
import { CascadePaint } from "./CascadePaint";
import { ChosenUnits } from "./ChosenUnits";

const ORDERS = ["forward", "back", "from the middle", "from the ends", "random", "by distance", "each line"];
const ANCHORS = [
  ...["top left", "top", "top right", "left", "centre", "right", "bottom left", "bottom", "bottom right"],
  ...["baseline left", "baseline", "baseline right"],
];
const ABOUT: [string, string][] = [
  ["unit", "of each"],
  ["word", "of its word"],
  ["line", "of its line"],
  ["whole", "of the whole"],
  ["point", "one point"],
];
/** What units can be moved from or to, and what it is at first. */
const VALUES: [string, string, unknown][] = [
  ["offset", "Offset", { rest: [0, 40] }],
  ["scale", "Scale", { rest: [0, 0] }],
  ["turn_x", "Turn x", { rest: 90 }],
  ["turn_y", "Turn y", { rest: 90 }],
  ["turn_z", "Turn z", { rest: 45 }],
  ["distance", "Distance", { rest: 600 }],
  ["skew", "Skew", { rest: 20 }],
  ["opacity", "Opacity", { rest: 0 }],
  ["fill", "Colour", { rest: "#d24b1eff" }],
  ["blur", "Blur", { rest: 8 }],
  ["tracking", "Tracking", { rest: 200 }],
  ["stroke_width", "Line width", { rest: 0 }],
  ["part", "Drawn part", { rest: 0 }],
];
/** What shapes and layers have of these. */
const OF_SHAPES = new Set(["offset", "scale", "turn_x", "turn_y", "turn_z", "distance", "skew", "opacity", "blur"]);
const tidy = (value: number) => Math.round(value * 1000) / 1000;

export const nameOf = (cascade: Cascade) => cascade.name || `${cascade.unit ?? "letter"} ${cascade.way ?? "in"}`;

interface Props {
  layer: Layer;
  cascade: Cascade;
  index: number;
  facts?: ReturnType<typeof useCascadeFacts>[number];
  remove: () => void;
}

/** The numbers of one cascade: when, how they follow one another, about what, and from or to which values. */
export function OneCascade({ layer, cascade, index, facts, remove }: Props) {
  const session = useSession();
  const known = useFacts();
  const font = useFontFacts().fonts.find(({ name }) => "font" in layer.content && name === layer.content.font?.family);
  const { locked } = layer;
  const words = hasWords(layer.content);
  const id = layer.id!;
  const set = (fields: Partial<Cascade>) => session.edit(...cascadeEdits(id, index, fields));
  const attempt = (fields: Partial<Cascade>) => session.try(cascadeEdits(id, index, fields));
  /** Those of some fields that are others than now, or the first where none is. */
  const fresh = (fields: Partial<Cascade>) => {
    const others = Object.entries(fields).filter(([name, value]) => cascade[name as keyof Cascade] !== value);
    return Object.fromEntries(others.length ? others : Object.entries(fields).slice(0, 1)) as Partial<Cascade>;
  };
  const number = (label: string, unit: string, read: () => number, fields: (value: number) => Partial<Cascade>) => (
    <NumberField
      label={label}
      unit={unit}
      width="84px"
      disabled={locked}
      read={() => tidy(read())}
      keep={(value, run) => session.keep(run, ...cascadeEdits(id, index, fresh(fields(value))))}
      attempt={(value) => attempt(fields(value))}
    />
  );
  const each = cascade.each ?? 12;
  const [stagger, overlap, total] = facts ? [facts.stagger, facts.overlap, facts.total] : [0, null, each];
  const spread = (which: Cascade["spread"], least: number) => (value: number) => ({
    spread: which,
    amount: Math.max(value, least),
  });
  const eases = Object.keys(known.easings);
  const ease = (label: string, field: "ease" | "over") => (
    <Select
      label={label}
      value={
        typeof cascade[field] === "object" ? "own" : (cascade[field] ?? (field === "ease" ? "ease-out" : "linear"))
      }
      options={[
        ...(typeof cascade[field] === "object" ? [["own", "its own"] as [string, string]] : []),
        ...["linear", ...eases].map((name): [string, string] => [name, name]),
      ]}
      onChange={(value) => value !== "own" && void set({ [field]: value })}
      disabled={locked}
    />
  );
  const Mark = cascade.on === false ? EyeOff : Eye;
  const offerAxes = (button: Element) =>
    openMenuBelow(
      "Axes of the font",
      (font?.axes ?? []).map(({ tag, name, low, high }): Act => {
        const rest = (cascade.axes ?? []).filter((one) => one.tag !== tag);
        const on = rest.length < (cascade.axes ?? []).length;
        const axes = on ? rest : [...rest, { tag, name, low, high, value: { rest: low } }];
        return [on ? `✓ ${name}` : name, () => void set({ axes: axes as Cascade["axes"] })];
      }),
      button,
    );
  const start = `content.cascades.${index}.`;
  const unread = cascade.fill && "gradient" in cascade.fill ? UNREAD[cascade.fill.gradient] : [];
  const values = Object.entries(tracksOf(layer)).filter(
    ([name]) => name.startsWith(start) && !unread.some((one) => name === `${start}fill.${one}`),
  );
  return (
    <Box role="group" aria-label={`Cascade ${nameOf(cascade)}`}>
      <Row label="Unit and way">
        <RowLabel>Moves</RowLabel>
        <Select
          label="Unit"
          value={cascade.unit ?? "letter"}
          options={
            words
              ? ["letter", "word", "line", "whole"]
              : [["item", hasItems(layer.content) ? "each shape" : "each layer"], "whole"]
          }
          onChange={(unit) => void set({ unit: unit as Cascade["unit"] })}
          disabled={locked}
        />
        <Select
          label="Way"
          value={cascade.way ?? "in"}
          options={["in", "out", "through"]}
          onChange={(way) => void set({ way: way as Cascade["way"] })}
          disabled={locked}
        />
        <IconButton
          label={cascade.on === false ? "Switch the cascade on" : "Switch the cascade off"}
          color={cascade.on === false ? "quiet" : "act"}
          disabled={locked}
          onClick={() => void set({ on: cascade.on === false })}
        >
          <Mark size={13} />
        </IconButton>
        <IconButton label="Remove the cascade" disabled={locked} onClick={remove}>
          <Trash2 size={14} />
        </IconButton>
      </Row>
      <Row label="Order">
        <RowLabel>Order</RowLabel>
        <Select
          label="Order of the units"
          value={cascade.order ?? "forward"}
          options={ORDERS}
          onChange={(order) => void set({ order: order as Cascade["order"] })}
          disabled={locked}
        />
        {cascade.order === "random" &&
          number(
            "Seed",
            "",
            () => cascade.seed ?? 1,
            (seed) => ({ seed: Math.max(Math.round(seed), 0) }),
          )}
      </Row>
      <Row label="Times">
        <RowLabel title="When the first begins, counted from the layer's start; and how long one of them takes">
          Start, each
        </RowLabel>
        {number(
          "Start of the cascade",
          "f",
          () => cascade.start ?? 0,
          (start) => ({ start }),
        )}
        {number(
          "Each takes",
          "f",
          () => each,
          (value) => ({ each: Math.max(value, 0) }),
        )}
      </Row>
      <Row label="Spread">
        <RowLabel title="How they follow one another: each of these numbers follows from the others">
          {`${facts?.count ?? "…"} units`}
        </RowLabel>
        <Flex gap="1" flex="1" minWidth="0">
          {number("Stagger", "f", () => stagger, spread("stagger", 0))}
          {number("Overlap", "×", () => overlap ?? facts?.count ?? 1, spread("overlap", 0.01))}
        </Flex>
      </Row>
      <Row label="Total length">
        <RowLabel title="Until the last has arrived">Total</RowLabel>
        {number("Total", "f", () => total, spread("total", 0))}
        <Box flex="1" color="quiet" fontSize="caption" truncate>
          {cascade.spread === "overlap" ? "overlap kept" : cascade.spread === "total" ? "total kept" : "stagger kept"}
        </Box>
      </Row>
      <Row label="Easing of the cascade">
        <RowLabel title="How each of them moves, and how the times at which they begin are spread">Eased</RowLabel>
        {ease("Easing of each", "ease")}
        {ease("Easing over the order", "over")}
      </Row>
      <Row label="Anchor of the units">
        <RowLabel title="About which point they are scaled and turned">About</RowLabel>
        <Select
          label="Anchor of the units"
          value={cascade.anchor ?? "centre"}
          options={ANCHORS}
          onChange={(anchor) => void set({ anchor: anchor as Cascade["anchor"] })}
          disabled={locked || cascade.about === "point"}
        />
        <Select
          label="Whose anchor"
          value={cascade.about ?? "unit"}
          options={ABOUT}
          onChange={(about) => void set({ about: about as Cascade["about"] })}
          disabled={locked}
        />
      </Row>
      {(cascade.about === "point" || cascade.order === "by distance") && (
        <Row label="Point">
          <RowLabel title="In the pixels of the text; drag it on the stage">Point</RowLabel>
          {([0, 1] as const).map((axis) => (
            <NumberField
              key={axis}
              label={`Point ${"xy"[axis]}`}
              unit={"xy"[axis]}
              width="84px"
              disabled={locked}
              read={() => tidy((cascade.point ?? [0, 0])[axis])}
              keep={(value, run) =>
                session.keep(
                  run,
                  ...cascadeEdits(id, index, {
                    point: (cascade.point ?? [0, 0]).with(axis, value) as [number, number],
                  }),
                )
              }
              attempt={(value) => attempt({ point: (cascade.point ?? [0, 0]).with(axis, value) as [number, number] })}
            />
          ))}
        </Row>
      )}
      <Flex gap="1.5" wrap="wrap" my="1.5" role="group" aria-label="From or to these values">
        {VALUES.filter(([field]) => words || OF_SHAPES.has(field)).map(([field, label, rest]) => {
          const on = Boolean(cascade[field as "offset"]);
          return (
            <Toggle
              key={field}
              label={label}
              title={`${label}: ${on ? "as at rest again" : "moved from or to it"}`}
              on={on}
              disabled={locked}
              press={() => void set({ [field]: on ? null : rest })}
            />
          );
        })}
        {Boolean(font?.axes.length) && (
          <Pill
            px="2.5"
            height="control"
            label="Axes of the font that letters come along"
            look={cascade.axes?.length ? "on" : "plain"}
            aria-haspopup="menu"
            disabled={locked}
            onClick={({ currentTarget }) => offerAxes(currentTarget)}
          >
            Axes…
          </Pill>
        )}
        {words && (
          <Toggle
            label="Scramble"
            title="Scramble: other letters in turn, until each is its own"
            on={Boolean(cascade.scramble)}
            disabled={locked}
            press={() => void set({ scramble: !cascade.scramble })}
          />
        )}
        {words && (
          <Toggle
            label="Caret"
            title="Caret: a bar behind the last unit that has come"
            on={Boolean(cascade.caret)}
            disabled={locked}
            press={() => void set({ caret: !cascade.caret })}
          />
        )}
        <Toggle
          label="Past rest"
          title="Past rest: they may go past rest and come back; else they stay where they arrive"
          on={Boolean(cascade.past)}
          disabled={locked}
          press={() => void set({ past: !cascade.past })}
        />
        {cascade.offset && (
          <Select
            label="Offset in"
            width="72px"
            value={cascade.offset_in ?? "px"}
            options={[
              ["px", "in px"],
              ["%", "in %"],
            ]}
            onChange={(value) => void set({ offset_in: value as Cascade["offset_in"] })}
            disabled={locked}
          />
        )}
      </Flex>
      {cascade.fill && <CascadePaint layer={layer} cascade={cascade} index={index} />}
      {values.map(([name, track]) => (
        <PropertyRow
          key={name}
          layer={layer}
          name={name}
          label={labelOf(name) ?? factsOf(layer, name, known).label}
          facts={factsOf(layer, name, known)}
          track={track}
        />
      ))}
      <ChosenUnits layer={layer} cascade={cascade} index={index} units={facts?.units ?? []} />
    </Box>
  );
}

/** What a value of a cascade is called beside its toggle; an axis by its own name. */
function labelOf(name: string) {
  const stop = /\.stops\.(\d+)\.(at|colour)$/.exec(name);
  if (stop) return `${stop[2] === "at" ? "Place" : "Colour"} ${Number(stop[1]) + 1}`;
  return VALUES.find(([field]) => name.endsWith(`.${field}`))?.[1];
}
