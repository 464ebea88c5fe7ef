import { useState } from "react";
import { calculated } from "../parts/arithmetic";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useScene } from "../session/useScene";
import { sayProblem } from "../state/page";
import type { SlotFacts } from "./useSlots";

interface Props {
  slot: SlotFacts;
  close: () => void;
  change: (fields: object) => Promise<boolean>;
}

/** The bounds of a slot: the least and the largest number, or how many letters a text has at most. */
export function SlotBounds({ slot, close, change }: Props) {
  const { scene } = useScene();
  const own = scene.slots?.find(({ id }) => id === slot.id);
  const letters = slot.kind === "text";
  const numbers = ["number", "pair", "length"].includes(slot.kind);
  const shown = (value: number | null | undefined) => (value === null || value === undefined ? "" : String(value));
  const [low, setLow] = useState(shown(own?.low));
  const [high, setHigh] = useState(shown(own?.high));
  const [most, setMost] = useState(shown(own?.most));
  const keep = async () => {
    const read = (text: string) => (text.trim() ? calculated(text) : null);
    const bounds = { low: read(low), high: read(high), most: read(most) };
    const wrong = [low, high, most].find((text) => text.trim() && calculated(text) === null);
    if (wrong !== undefined) return sayProblem(new Error(`A bound is a number, and “${wrong}” is none.`));
    if (await change({ bounds })) close();
  };
  const keys = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === "Enter" && !event.repeat) void keep();
    if (event.key === "Escape") close();
  };
  const field = (label: string, value: string, set: (text: string) => void) => (
    <TextInput
      aria-label={label}
      placeholder="none"
      inputMode="decimal"
      width="64px"
      autoFocus={label !== "At most"}
      data-leaves="yes"
      value={value}
      onChange={(event) => set(event.target.value)}
    />
  );
  if (!letters && !numbers)
    return (
      <Flex gap="2" align="center">
        <Text color="quiet">A {slot.kind} has no bounds.</Text>
        <Pill onClick={close}>Close</Pill>
      </Flex>
    );
  return (
    <Flex role="group" aria-label={`Bounds of ${slot.name}`} gap="1.5" align="center" py="1" onKeyDown={keys}>
      {letters ? (
        <>
          <Text color="quiet">letters at most</Text>
          {field("Letters at most", most, setMost)}
        </>
      ) : (
        <>
          <Text color="quiet">from</Text>
          {field("At least", low, setLow)}
          <Text color="quiet">to</Text>
          {field("At most", high, setHigh)}
        </>
      )}
      <Pill look="act" onClick={() => void keep()}>
        Set
      </Pill>
    </Flex>
  );
}
