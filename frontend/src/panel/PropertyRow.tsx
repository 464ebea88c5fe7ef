import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { Link2, Link2Off } from "lucide-react";
import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Edit, Layer, PropertyFacts, Track } from "../api/client";
import { NumberField } from "../parts/NumberField";
import { choose, useChoices } from "../scene/choices";
import { useSession } from "../scene/session";
import { KeySteps, Pebble } from "./Keying";

interface Props {
  layer: Layer;
  name: string;
  label: string;
  facts: PropertyFacts;
  track: Track;
}

/** A property: pebble, name, its numbers or colour, link, and the way to its keys. */
export function PropertyRow({ layer, name, label, facts, track }: Props) {
  const session = useSession();
  const unlinked = useChoices((state) => state.unlinked[`${layer.id}.${name}`] ?? false);
  const linked = facts.linked && !unlinked;
  const parts = facts.parts.length;

  const numbers = (): number[] | null => {
    const arrays = session.frames.layer(layer.id!);
    return arrays && name in arrays.values ? [...row(arrays, arrays.values[name], session.frames.frame)] : null;
  };

  const change = (part: number, value: number): Edit => {
    const base = { edit: "set_property" as const, layer: layer.id!, property: name, frame: session.frames.frame };
    if (parts === 1) return { ...base, value };
    const pair: [number | null, number | null] = [null, null];
    pair[part] = value;
    const now = numbers();
    if (linked && now) {
      const other = 1 - part;
      const ratio = now[part] === 0 || now[part] === now[other] ? null : now[other] / now[part];
      pair[other] = ratio === null ? value : Math.round(value * ratio * 1000) / 1000;
    }
    return { ...base, value: pair };
  };

  const colour = typeof track.rest === "string";
  const disabled = layer.locked;
  return (
    <Flex
      align="center"
      gap="1.5"
      height="31px"
      borderTopWidth="1px"
      borderColor="edge"
      role="group"
      aria-label={label}
    >
      <Pebble layer={layer} name={name} label={label} track={track} tone={facts.role} />
      <Text width="60px" flex="none" fontWeight={600} color={facts.role} fontSize="12.5px" truncate title={label}>
        {label}
      </Text>
      {colour ? (
        <ColourField
          label={label}
          numbers={numbers}
          set={(value, keep) => {
            const edit = {
              edit: "set_property" as const,
              layer: layer.id!,
              property: name,
              frame: session.frames.frame,
              value,
            };
            if (keep) void session.edit(edit);
            else session.try([edit]);
          }}
          disabled={disabled}
        />
      ) : (
        facts.parts.map((part, index) => (
          <NumberField
            key={part || name}
            label={part ? `${label} ${part}` : label}
            unit={parts > 1 ? (facts.unit === "%" ? "%" : part) : facts.unit}
            step={facts.step}
            width={parts > 1 ? "57px" : "120px"}
            disabled={disabled}
            read={() => numbers()?.[index] ?? null}
            attempt={(value) => session.try([change(index, value)])}
            keep={(value) => void session.edit(change(index, value))}
          />
        ))
      )}
      <Box flex="1" />
      {facts.linked && (
        <chakra.button
          type="button"
          aria-label={linked ? `Unlink ${label} x and y` : `Link ${label} x and y`}
          title={linked ? "Unlink x and y" : "Link x and y"}
          aria-pressed={linked}
          color={linked ? "act" : "quiet"}
          cursor="pointer"
          onClick={() => choose((state) => ({ unlinked: { ...state.unlinked, [`${layer.id}.${name}`]: linked } }))}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        >
          {linked ? <Link2 size={14} /> : <Link2Off size={14} />}
        </chakra.button>
      )}
      <KeySteps layer={layer} name={name} label={label} track={track} />
    </Flex>
  );
}

const two = (n: number) => Math.round(n).toString(16).padStart(2, "0");

interface ColourProps {
  label: string;
  numbers: () => number[] | null;
  set: (value: string, keep: boolean) => void;
  disabled?: boolean;
}

/** A colour with its alpha. */
export function ColourField({ label, numbers, set, disabled }: ColourProps) {
  const session = useSession();
  const swatch = useRef<HTMLInputElement>(null);
  const hex = (rgba: number[]) => `#${rgba.slice(0, 3).map(two).join("")}`;

  useEffect(() => {
    const field = swatch.current!;
    const paint = () => {
      const now = numbers();
      if (now && document.activeElement !== field) field.value = hex(now);
    };
    paint();
    const kept = () => set(`${field.value}${two(numbers()?.[3] ?? 255)}`, true);
    field.addEventListener("change", kept);
    const stop = session.frames.subscribe(paint);
    return () => {
      field.removeEventListener("change", kept);
      stop();
    };
  });

  const alpha = (value: number) => `${hex(numbers() ?? [0, 0, 0])}${two(Math.min(Math.max(value, 0), 100) * 2.55)}`;
  return (
    <>
      <chakra.input
        ref={swatch}
        type="color"
        aria-label={label}
        disabled={disabled}
        width="57px"
        height="23px"
        padding="2px"
        borderWidth="1px"
        borderColor="edge"
        borderRadius="7px"
        bg="well"
        cursor="pointer"
        onInput={(event) => set(`${event.currentTarget.value}${two(numbers()?.[3] ?? 255)}`, false)}
      />
      <NumberField
        label={`${label} alpha`}
        unit="%"
        width="57px"
        disabled={disabled}
        read={() => {
          const now = numbers();
          return now ? Math.round(now[3] / 2.55) : null;
        }}
        attempt={(value) => set(alpha(value), false)}
        keep={(value) => set(alpha(value), true)}
      />
    </>
  );
}
