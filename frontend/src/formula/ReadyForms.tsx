import { useState } from "react";
import type { ReadyFacts } from "../api/client";
import { toStage } from "../parts/focus";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";

interface Props {
  label: string;
  ready: ReadyFacts[];
  kind: "number" | "pair" | "text";
  /** What the property is called in formulas. */
  property: string;
  unit: string;
  others: string[];
  disabled: boolean;
  /** Try a text, as if it were typed. */
  put: (text: string) => void;
  take: () => void;
  drop: () => void;
  /** One is being tried, or no more. */
  onOpen: (open: boolean) => void;
}

/** Ready formulas by need: chosen, one is tried on the stage while its few numbers are turned; then taken or dropped. */
export function ReadyForms(props: Props) {
  const { label, ready, kind, property, unit, others, disabled, put, take, drop, onOpen } = props;
  const [chosen, setChosen] = useState<{ need: string; values: Record<string, string>; layer: string } | null>(null);
  const offered = ready.filter((one) => one[kind]);
  const form = chosen && offered.find((one) => one.need === chosen.need)?.[kind];
  const fill = (next: NonNullable<typeof chosen>) => {
    const found = offered.find((one) => one.need === next.need)![kind]!;
    setChosen(next);
    onOpen(true);
    let text = found.text
      .replaceAll("{layer}", JSON.stringify(next.layer).slice(1, -1))
      .replaceAll("{property}", property);
    for (const field of found.fields) text = text.replaceAll(`{${field.name}}`, numberIn(next.values[field.name])!);
    put(text);
  };
  /** Whether each field holds a number. */
  const whole = (values: Record<string, string>) =>
    form?.fields.every((field) => numberIn(values[field.name]) !== null) ?? false;
  const choose = (need: string) => {
    const found = offered.find((one) => one.need === need)?.[kind];
    if (!found) return;
    const values = Object.fromEntries(found.fields.map((field) => [field.name, String(field.value)]));
    fill({ need, values, layer: others[0] ?? "Name" });
  };
  const close = (how: () => void) => {
    setChosen(null);
    onOpen(false);
    how();
    toStage();
  };
  return (
    <>
      <Select
        label={`Ready formulas for ${label}`}
        width="128px"
        value={chosen?.need ?? ""}
        disabled={disabled}
        stays
        options={[["", "Ready formulas…"], ...offered.map((one): [string, string] => [one.need, one.need])]}
        onChange={choose}
      />
      {chosen && form && (
        <Flex
          role="group"
          aria-label={`Numbers of the ready formula for ${label}`}
          width="100%"
          wrap="wrap"
          gap="1.5"
          align="center"
          onKeyDown={(event) => {
            if (event.key === "Enter" && !event.repeat && event.target instanceof HTMLInputElement) {
              if (whole(chosen.values)) close(take);
            } else if (event.key === "Escape") close(drop);
            else return;
            event.preventDefault();
            event.stopPropagation();
          }}
        >
          {form.text.includes("{layer}") && (
            <Select
              label="Layer that is followed"
              width="128px"
              stays
              value={chosen.layer}
              options={others}
              onChange={(layer) => (whole(chosen.values) ? fill : setChosen)({ ...chosen, layer })}
            />
          )}
          {form.fields.map((field) => (
            <Flex as="label" key={field.name} align="center" gap="1" fontSize="row">
              <Text as="span">{field.label}</Text>
              <TextInput
                key={chosen.need}
                autoFocus={field === form.fields[0]}
                width="54px"
                inputMode="decimal"
                aria-label={field.label}
                value={chosen.values[field.name]}
                aria-invalid={numberIn(chosen.values[field.name]) === null || undefined}
                title={numberIn(chosen.values[field.name]) === null ? "A number, such as 30 or 0.5" : undefined}
                onChange={(event) => {
                  const values = { ...chosen.values, [field.name]: event.target.value };
                  // Another field may hold no number yet.
                  if (whole(values)) fill({ ...chosen, values });
                  else setChosen({ ...chosen, values });
                }}
              />
              <Text as="span" color="quiet">
                {field.unit === "=" ? unit : field.unit}
              </Text>
            </Flex>
          ))}
          <Pill
            height="24px"
            px="2"
            autoFocus={!form.fields.length}
            disabled={!whole(chosen.values)}
            onClick={() => close(take)}
          >
            Use it
          </Pill>
          <Pill height="24px" px="2" onClick={() => close(drop)}>
            Give it back
          </Pill>
        </Flex>
      )}
    </>
  );
}

/** The number that was typed, with a comma for the point and with its unit as well; null where it is none. */
function numberIn(text: string): string | null {
  const found = /^([-−]?)(\d+\.?\d*|\.\d+)\s*(?:°|%|px|s|f)?$/.exec(text.trim().replace(",", "."));
  return found && `${found[1] && "-"}${found[2]}`;
}
