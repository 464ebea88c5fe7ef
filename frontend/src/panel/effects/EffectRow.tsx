import { Eye, EyeOff, GripVertical, MoveDown, MoveUp, Trash2 } from "lucide-react";
import type { Layer } from "../../api/client";
import { factsOf } from "../../document/properties";
import { tracksOf } from "../../document/tracks";
import { NumberField } from "../../fields/NumberField";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { IconButton } from "../../parts/IconButton";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Box, chakra, Flex } from "../../parts/styled";
import { Toggle } from "../../parts/Toggle";
import { useSession } from "../../session/session";
import { useFacts } from "../../session/useScene";
import { type Effect, showEffect, useEffects } from "../../state/effects";
import { PropertyRow } from "../PropertyRow";
import { DrawnCurve } from "./DrawnCurve";

interface Props {
  layer: Layer;
  effect: Effect;
  index: number;
  last: boolean;
  /** Where the line stands at which a dragged effect would go. */
  line: "above" | "below" | null;
  grab: (event: React.PointerEvent) => void;
}

/** One effect: on or off, where it stands among the others, its properties and what it has besides. */
export function EffectRow({ layer, effect, index, last, line, grab }: Props) {
  const session = useSession();
  const facts = useFacts();
  const kind = facts.effects[effect.effect!];
  const name = effect.name || kind?.label || effect.effect!;
  const on = effect.visible !== false;
  const one = { layer: layer.id!, effect: effect.id! };
  const shown = useEffects((state) => state.layer === layer.id && state.effect === effect.id);
  const set = (change: { visible?: boolean; to?: number }) =>
    void session.edit({ edit: "set_effect", ...one, ...change });
  const Mark = on ? Eye : EyeOff;
  const points = kind?.points ?? [];
  const edge = "var(--chakra-colors-act)";
  return (
    <Box
      role="listitem"
      aria-label={name}
      style={{
        boxShadow: line === "above" ? `0 -2px 0 ${edge}` : line === "below" ? `0 2px 0 ${edge}` : undefined,
      }}
    >
      <Flex align="center" gap="1" height="27px">
        <Box
          title="Drag to another place"
          cursor={layer.locked ? "default" : "grab"}
          color="quiet"
          data-testid="effect-grip"
          onPointerDown={grab}
        >
          <GripVertical size={13} />
        </Box>
        {points.length ? (
          <chakra.button
            type="button"
            flex="1"
            minWidth="0"
            textAlign="left"
            fontWeight={500}
            color={shown ? "act" : on ? "ink" : "quiet"}
            aria-pressed={shown}
            aria-label={`Points of ${name} on the stage`}
            title="Shows its points on the stage, to be dragged"
            cursor="pointer"
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
            onClick={() => showEffect(shown ? null : layer.id!, effect.id)}
          >
            {name}
          </chakra.button>
        ) : (
          <Box flex="1" minWidth="0" truncate fontWeight={500} color={on ? "ink" : "quiet"}>
            {name}
          </Box>
        )}
        <IconButton
          label={`Run ${name} earlier`}
          disabled={layer.locked || index === 0}
          onClick={() => set({ to: index - 1 })}
        >
          <MoveUp size={14} />
        </IconButton>
        <IconButton label={`Run ${name} later`} disabled={layer.locked || last} onClick={() => set({ to: index + 1 })}>
          <MoveDown size={14} />
        </IconButton>
        <IconButton
          label={`Take ${name} off`}
          disabled={layer.locked}
          onClick={() => void session.edit({ edit: "remove_effect", ...one })}
        >
          <Trash2 size={14} />
        </IconButton>
        <IconButton
          label={on ? `Switch ${name} off` : `Switch ${name} on`}
          color={on ? "act" : "quiet"}
          disabled={layer.locked}
          onClick={() => set({ visible: !on })}
        >
          <Mark size={13} />
        </IconButton>
      </Flex>
      {Object.entries(tracksOf(layer))
        .filter(([path]) => path.startsWith(`effects.${index}.`))
        .map(([path, track]) => (
          <PropertyRow
            key={path}
            layer={layer}
            name={path}
            label={stopLabel(path) ?? factsOf(layer, path, facts).label}
            facts={factsOf(layer, path, facts)}
            track={track}
          />
        ))}
      {kind?.fields.map((field) => (
        <Field
          key={field.name}
          layer={layer}
          effect={effect}
          field={field}
          path={`effects.${index}`}
          set={(fields, run) => void session.keep(run, { edit: "set_effect", ...one, fields })}
          attempt={(fields) => session.try([{ edit: "set_effect", ...one, fields }])}
        />
      ))}
    </Box>
  );
}

/** The place or the colour of a stop, by its number. */
function stopLabel(path: string): string | null {
  const stop = /\.stops\.(\d+)\.(at|colour)$/.exec(path);
  return stop && `${stop[2] === "at" ? "Place" : "Colour"} ${Number(stop[1]) + 1}`;
}

type FieldFacts = ReturnType<typeof useFacts>["effects"][string]["fields"][number];

interface FieldProps {
  layer: Layer;
  effect: Effect;
  field: FieldFacts;
  /** The path of the effect in its layer. */
  path: string;
  set: (fields: Record<string, unknown>, run?: string) => void;
  attempt: (fields: Record<string, unknown>) => void;
}

/** What an effect has that is no property: a switch, a whole number, a curve, stops. */
function Field({ layer, effect, field, path, set, attempt }: FieldProps) {
  const facts = useFacts();
  const { name, label, kind } = field;
  const value = (effect as Record<string, unknown>)[name] ?? field.default;
  const disabled = layer.locked;
  if (kind === "switch")
    return (
      <Flex my="1">
        <Toggle
          label={label}
          title={`${label}: ${value ? "on" : "off"}`}
          on={Boolean(value)}
          disabled={disabled}
          press={() => set({ [name]: !value })}
        />
      </Flex>
    );
  if (kind === "whole") {
    const fit = (given: number) => Math.min(Math.max(Math.round(given), field.low ?? 0), field.high ?? 1e6);
    return (
      <Row label={label}>
        <RowLabel>{label}</RowLabel>
        <NumberField
          label={label}
          unit=""
          width="84px"
          disabled={disabled}
          read={() => value as number}
          keep={(given, run) => set({ [name]: fit(given) }, run)}
          attempt={() => {}}
        />
      </Row>
    );
  }
  if (kind === "curve") {
    const own = typeof value === "string" ? [] : [["own", "its own"] as [string, string]];
    const names = ["linear", ...Object.keys(facts.easings).filter((one) => one !== "linear")];
    return (
      <Row label={label}>
        <RowLabel title="From how light something is to how light it is made">{label}</RowLabel>
        <Select
          label={label}
          value={typeof value === "string" ? value : "own"}
          options={[...own, ...names.map((one): [string, string] => [one, one])]}
          disabled={disabled}
          onChange={(one) => one !== "own" && set({ [name]: one })}
        />
      </Row>
    );
  }
  if (kind === "drawn")
    return (
      <DrawnCurve
        layer={layer}
        path={path}
        points={value as [number, number][]}
        disabled={disabled}
        set={(points, keep) => (keep ? set({ [name]: points }) : attempt({ [name]: points }))}
      />
    );
  const stops = value as { at: { rest: number }; colour: { rest: string } }[];
  return (
    <Row label={label}>
      <RowLabel>{label}</RowLabel>
      <Pill
        px="2"
        label="+ stop: add a stop to the gradient"
        disabled={disabled || stops.length >= 32}
        onClick={() => set({ [name]: [...stops.slice(0, -1), between(stops), stops.at(-1)] })}
      >
        + stop
      </Pill>
      <Pill
        px="2"
        label="Remove the last stop but one of the gradient"
        disabled={disabled || stops.length <= 2}
        onClick={() => set({ [name]: stops.filter((_, at) => at !== stops.length - 2) })}
      >
        −
      </Pill>
    </Row>
  );
}

/** A stop half-way between the last two, in the colour of the last but one. */
function between(stops: { at: { rest: number }; colour: { rest: string } }[]) {
  const [before, last] = stops.slice(-2);
  return { at: { rest: (before.at.rest + last.at.rest) / 2 }, colour: { rest: before.colour.rest } };
}
