import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, need } from "../api/client";
import { ColourField } from "../fields/ColourField";
import { NumberField } from "../fields/NumberField";
import { TimeField } from "../fields/TimeField";
import { useDraft } from "../parts/draft";
import { Select } from "../parts/Select";
import { Switch } from "../parts/Switch";
import { Box, chakra, Flex } from "../parts/styled";
import { useFacts, useScene } from "../session/useScene";
import type { SlotFacts, SlotValue } from "./useSlots";

interface Props {
  slot: SlotFacts;
  /** What it holds; another one where it is filled for one use of its scene. */
  value: SlotValue;
  /** Tries a value on the stage, or keeps it; `run` names steps that are one step to undo. */
  fill: (value: SlotValue, keep: boolean, run?: string) => unknown;
  /** What was tried is given back. */
  drop: () => void;
}

/** What fills a slot, by its kind; what is typed shows on the stage at once. */
export function SlotField({ slot, value, fill, drop }: Props) {
  switch (slot.kind) {
    case "text":
      return <Words slot={slot} value={String(value)} fill={fill} drop={drop} />;
    case "colour":
      return <Colour slot={slot} value={String(value)} fill={fill} />;
    case "number":
    case "pair":
      return <Numbers slot={slot} value={value} fill={fill} />;
    case "yes or no":
      return <Switch text={value ? "shown" : "hidden"} on={value === true} set={(on) => fill(on, true)} />;
    case "length":
      return (
        <TimeField
          label={slot.name}
          frame={Number(value)}
          least={Math.max(slot.low ?? 1, 1)}
          most={slot.high ?? undefined}
          keep={(frames) => void fill(frames, true)}
        />
      );
    case "font":
      return <Family slot={slot} value={String(value)} fill={fill} />;
    default:
      return <Medium slot={slot} value={String(value)} fill={fill} />;
  }
}

type Kind<T> = Omit<Props, "value" | "drop"> & { value: T };

/** Words: Enter takes them, Shift and Enter begins a line. */
function Words({ slot, value, fill, drop }: Kind<string> & { drop: () => void }) {
  const { props } = useDraft<HTMLTextAreaElement>({
    shown: () => value,
    take: (text) => {
      void fill(text, true);
      return true;
    },
    tried: (text) => fill(text, false),
    dropped: drop,
  });
  const lines = Math.min(value.split("\n").length, 8);
  return (
    <chakra.textarea
      {...props}
      aria-label={slot.name}
      data-lines="yes"
      rows={lines}
      defaultValue={value}
      maxLength={slot.most ?? 5_000}
      spellCheck={false}
      width="100%"
      px="2"
      py="3px"
      bg="well"
      borderWidth="1px"
      borderColor="field"
      borderRadius="control"
      resize="vertical"
      minHeight="{sizes.control}"
      css={{ fieldSizing: "content" }}
      _focusVisible={{ outline: "1px solid", outlineColor: "act", borderColor: "act" }}
      onKeyDown={(event) => {
        if (event.key === "Enter" && event.shiftKey) return;
        props.onKeyDown(event);
      }}
    />
  );
}

function Colour({ slot, value, fill }: Kind<string>) {
  const parts = useMemo(() => [1, 3, 5, 7].map((at) => Number.parseInt(value.slice(at, at + 2), 16)), [value]);
  return (
    <Flex gap="1.5" align="center">
      <ColourField label={slot.name} numbers={() => parts} set={(colour, keep) => fill(colour, keep)} />
    </Flex>
  );
}

function Numbers({ slot, value, fill }: Kind<SlotValue>) {
  const now = (Array.isArray(value) ? value : [value]) as number[];
  const within = (given: number) => Math.min(Math.max(given, slot.low ?? -1e6), slot.high ?? 1e6);
  const changed = (part: number, given: number) => {
    const next = now.map((one, index) => (index === part ? within(given) : one));
    return (next.length > 1 ? next : next[0]) as SlotValue;
  };
  return (
    <Flex gap="1.5">
      {now.map((_, part) => (
        <NumberField
          key={part}
          label={now.length > 1 ? `${slot.name} ${slot.parts[part] ?? "xy"[part]}` : slot.name}
          unit={now.length > 1 && slot.unit !== "%" ? (slot.parts[part] ?? "") : slot.unit}
          width="84px"
          read={() => now[part]}
          attempt={(given) => fill(changed(part, given), false)}
          keep={(given, run) => fill(changed(part, given), true, run)}
        />
      ))}
    </Flex>
  );
}

function Family({ slot, value, fill }: Kind<string>) {
  const facts = useFacts();
  const names = facts.fonts.map(({ name }) => name);
  return (
    <Select
      label={slot.name}
      value={value}
      options={names.includes(value) ? names : [value, ...names]}
      onChange={(name) => void fill(name, true)}
      stays
    />
  );
}

/** A picture, a clip or a sound of the project. */
function Medium({ slot, value, fill }: Kind<string>) {
  const { project } = useScene();
  const path = { project_id: project };
  const pictures = slot.kind === "picture";
  const { data = [] } = useQuery({
    queryKey: [pictures ? "pictures" : "clips", project],
    queryFn: async () =>
      pictures
        ? need(api.GET("/api/projects/{project_id}/pictures", { params: { path } }))
        : need(api.GET("/api/projects/{project_id}/clips", { params: { path } })),
  });
  const fits = (one: object) => pictures || ("width" in one && Boolean(one.width) === (slot.kind === "clip"));
  const options = data.filter(fits).map(({ id, name }): [string, string] => [id, name]);
  if (!options.some(([id]) => id === value)) options.unshift([value, "not in this project"]);
  return (
    <Box width="100%">
      <Select label={slot.name} value={value} options={options} onChange={(id) => void fill(id, true)} stays />
    </Box>
  );
}
