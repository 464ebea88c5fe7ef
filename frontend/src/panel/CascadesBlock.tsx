import { Eye, EyeOff, Plus, Trash2 } from "lucide-react";
import { useEffect } from "react";
import type { Layer } from "../api/client";
import { cascadesOf, hasWords } from "../document/contents";
import { factsOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { Block } from "../fields/Block";
import { NumberField } from "../fields/NumberField";
import { Row } from "../fields/Row";
import { RowLabel } from "../fields/RowLabel";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { follow } from "../parts/press";
import { Select } from "../parts/Select";
import { Box, Flex } from "../parts/styled";
import { Toggle } from "../parts/Toggle";
import { type Cascade, cascadeEdits, useCascadeFacts } from "../session/cascades";
import { useFontFacts } from "../session/projectFonts";
import { useSession } from "../session/session";
import { useFacts } from "../session/useScene";
import { setCascade, showCascade, useCascade } from "../state/cascades";
import { setPage } from "../state/page";
import { PropertyRow } from "./PropertyRow";

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
/** What shapes have of these. */
const OF_SHAPES = new Set(["offset", "scale", "turn_x", "turn_y", "turn_z", "skew", "opacity", "blur"]);
const tidy = (value: number) => Math.round(value * 1000) / 1000;

/** The cascades of a text or of shapes: units that are moved one after another; one of them is worked on. */
export function CascadesBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const cascades = cascadesOf(layer.content);
  const shown = useCascade();
  const facts = useCascadeFacts(layer);
  const index = shown.layer === layer.id && shown.index < cascades.length ? shown.index : 0;
  const id = layer.id!;
  const units = facts[index]?.units;
  const on = shown.layer === id && shown.index === index;
  // Its units show on the stage.
  useEffect(() => {
    if (on && units) setCascade({ units });
  }, [on, units]);
  // What is worked on ends with its panel.
  useEffect(() => () => showCascade(null), []);
  const add = () => {
    const start = Math.max(session.frames.frame - layer.span.start, 0);
    const unit = hasWords(layer.content) ? "letter" : "item";
    const fresh = { unit, start, offset: { rest: [0, 40] }, opacity: { rest: 0 } };
    void session
      .edit({ edit: "set_content", layer: id, path: "cascades", value: [...cascades, fresh] as never })
      .then((kept) => kept && showCascade(id, cascades.length));
  };
  const without = (gone: number) =>
    void session.edit({
      edit: "set_content",
      layer: id,
      path: "cascades",
      value: cascades.filter((_, at) => at !== gone) as never,
    });
  return (
    <Block
      name="Cascades"
      beside={
        <Flex flex="1" justify="flex-end" align="center" gap="1">
          {hasWords(layer.content) && (
            <Pill
              px="2"
              label="Ready-made cascades: letters, words and lines that come one after another"
              onClick={() => setPage({ drawer: "recipes" })}
            >
              Ready-made…
            </Pill>
          )}
          <IconButton label="Add a cascade from the playhead on" disabled={layer.locked} onClick={add}>
            <Plus size={15} />
          </IconButton>
        </Flex>
      }
    >
      {cascades.length > 0 && (
        <Flex role="group" aria-label={`Cascades of ${layer.name}`} gap="1.5" wrap="wrap" mb="1">
          {cascades.map((cascade, at) => (
            <Pill
              key={at}
              px="2"
              look={at === index && shown.layer === id ? "on" : "plain"}
              aria-pressed={at === index && shown.layer === id}
              label={`Work on the cascade ${nameOf(cascade)}`}
              opacity={cascade.on === false ? 0.5 : 1}
              onClick={() => showCascade(shown.layer === id && at === index ? null : id, at)}
            >
              {nameOf(cascade)}
            </Pill>
          ))}
        </Flex>
      )}
      {cascades[index] && (
        <One
          key={index}
          layer={layer}
          cascade={cascades[index]}
          index={index}
          facts={facts[index]}
          remove={() => without(index)}
        />
      )}
    </Block>
  );
}

const nameOf = (cascade: Cascade) => cascade.name || `${cascade.unit ?? "letter"} ${cascade.way ?? "in"}`;

interface Props {
  layer: Layer;
  cascade: Cascade;
  index: number;
  facts?: ReturnType<typeof useCascadeFacts>[number];
  remove: () => void;
}

/** The numbers of one cascade: when, how they follow one another, about what, and from or to which values. */
function One({ layer, cascade, index, facts, remove }: Props) {
  const session = useSession();
  const known = useFacts();
  const font = useFontFacts().fonts.find(({ name }) => "font" in layer.content && name === layer.content.font?.family);
  const { locked } = layer;
  const words = hasWords(layer.content);
  const id = layer.id!;
  const set = (fields: Partial<Cascade>) => session.edit(...cascadeEdits(id, index, fields));
  const attempt = (fields: Partial<Cascade>) => session.try(cascadeEdits(id, index, fields));
  const number = (label: string, unit: string, read: () => number, fields: (value: number) => Partial<Cascade>) => (
    <NumberField
      label={label}
      unit={unit}
      width="84px"
      disabled={locked}
      read={() => tidy(read())}
      keep={(value) => set(fields(value))}
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
  const values = Object.entries(tracksOf(layer)).filter(([name]) => name.startsWith(`content.cascades.${index}.`));
  return (
    <Box role="group" aria-label={`Cascade ${nameOf(cascade)}`}>
      <Row label="Unit and way">
        <RowLabel>Moves</RowLabel>
        <Select
          label="Unit"
          value={cascade.unit ?? "letter"}
          options={words ? ["letter", "word", "line", "whole"] : [["item", "each shape"], "whole"]}
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
              keep={(value) => set({ point: (cascade.point ?? [0, 0]).with(axis, value) as [number, number] })}
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
      <Chosen layer={layer} cascade={cascade} index={index} units={facts?.units ?? []} />
    </Box>
  );
}

/** What a value of a cascade is called beside its toggle; an axis by its own name. */
const labelOf = (name: string) => VALUES.find(([field]) => name.endsWith(`.${field}`))?.[1];

interface ChosenProps {
  layer: Layer;
  cascade: Cascade;
  index: number;
  units: readonly { strength: number }[];
}

/** Which letters take part, and how softly that begins and ends. */
function Chosen({ layer, cascade, index, units }: ChosenProps) {
  const session = useSession();
  const { choice } = cascade;
  const id = layer.id!;
  const set = (value: Cascade["choice"]) => session.edit(...cascadeEdits(id, index, { choice: value }));
  const attempt = (value: Cascade["choice"]) => session.try(cascadeEdits(id, index, { choice: value }));
  const number = (label: string, now: number, made: (value: number) => Cascade["choice"]) => (
    <NumberField
      label={label}
      unit=""
      width="62px"
      disabled={layer.locked}
      read={() => now}
      keep={(value) => set(made(Math.max(value, 0)))}
      attempt={(value) => attempt(made(Math.max(value, 0)))}
    />
  );
  return (
    <>
      <Flex mt="1">
        <Toggle
          label="Some letters"
          title="Some letters: from one to another, softly at the ends"
          on={Boolean(choice)}
          disabled={layer.locked}
          press={() =>
            void set(choice ? null : { start: 0, stop: 3, soft_start: 0, soft_stop: 0, curve: "ease-in-out" })
          }
        />
      </Flex>
      {choice && <Strengths layer={layer} cascade={cascade} index={index} units={units} />}
      {choice?.picked && (
        <Flex align="center" gap="2" my="1" color="quiet" fontSize="row">
          {choice.picked.length} picked with Alt on the stage
          <Pill px="2" disabled={layer.locked} onClick={() => void set({ ...choice, picked: null })}>
            From, to instead
          </Pill>
        </Flex>
      )}
      {choice && !choice.picked && (
        <>
          <Row label="Letters that take part">
            <RowLabel title="The first and the last of them, counted without spaces">From, to</RowLabel>
            {number("First letter", (choice.start ?? 0) + 1, (value) => ({
              ...choice,
              start: Math.max(Math.round(value) - 1, 0),
            }))}
            {number("Last letter", choice.stop ?? 0, (value) => ({ ...choice, stop: Math.round(value) }))}
          </Row>
          <Row label="Soft edges">
            <RowLabel title="Over how many letters it begins and ends">Soft</RowLabel>
            {number("Soft start", choice.soft_start ?? 0, (value) => ({ ...choice, soft_start: value }))}
            {number("Soft end", choice.soft_stop ?? 0, (value) => ({ ...choice, soft_stop: value }))}
          </Row>
        </>
      )}
    </>
  );
}

const WIDE = 270;
const TALL = 36;

/** How strongly each unit takes part, as a curve; its two slopes are dragged. */
function Strengths({ layer, cascade, index, units }: ChosenProps) {
  const session = useSession();
  const choice = cascade.choice!;
  const id = layer.id!;
  const step = WIDE / Math.max(units.length, 1);
  const shape = units.map(({ strength }, at) => `${at * step},${TALL - strength * (TALL - 2)}`);
  const ends = units.map(({ strength }, at) => `${(at + 1) * step},${TALL - strength * (TALL - 2)}`);
  const line = shape.flatMap((corner, at) => [corner, ends[at]]).join(" ");
  const drag = (event: React.PointerEvent, side: "start" | "stop") => {
    if (layer.locked || event.button !== 0) return;
    event.preventDefault();
    const x = event.clientX;
    const field = side === "start" ? "soft_start" : "soft_stop";
    const before = choice[field] ?? 0;
    const at = (moved: PointerEvent) => {
      const by = ((moved.clientX - x) / step) * (side === "start" ? 1 : -1);
      return { choice: { ...choice, [field]: Math.round(Math.min(Math.max(before + by, 0), units.length) * 10) / 10 } };
    };
    let last: ReturnType<typeof at> | null = null;
    follow({
      move: (moved) => {
        last = at(moved);
        session.try(cascadeEdits(id, index, last));
      },
      end: () => (last ? void session.edit(...cascadeEdits(id, index, last)) : session.cancel()),
      cancel: () => session.cancel(),
    });
  };
  const [from, to] = [choice.start ?? 0, Math.min(choice.stop ?? units.length, units.length)];
  const grips = [
    ["start", Math.min(from + (choice.soft_start ?? 0) + 0.5, units.length)],
    ["stop", Math.max(to - (choice.soft_stop ?? 0) - 0.5, 0)],
  ] as const;
  return (
    <svg
      width={WIDE}
      height={TALL}
      role="img"
      aria-label="How strongly each unit takes part"
      data-testid="strengths"
      style={{ display: "block", margin: "4px 0" }}
    >
      <polyline points={`0,${TALL} ${line} ${WIDE},${TALL}`} fill="var(--chakra-colors-span)" stroke="none" />
      <polyline points={line} fill="none" stroke="var(--chakra-colors-act)" strokeWidth={1.5} />
      {!choice.picked &&
        grips.map(([side, at]) => (
          <circle
            key={side}
            data-testid={`soft-${side}`}
            cx={Math.min(Math.max(at * step, 5), WIDE - 5)}
            cy={8}
            r={5}
            fill="var(--chakra-colors-paper)"
            stroke="var(--chakra-colors-anchor-ink)"
            strokeWidth={1.5}
            style={{ cursor: "ew-resize" }}
            onPointerDown={(event) => drag(event, side)}
          />
        ))}
    </svg>
  );
}
