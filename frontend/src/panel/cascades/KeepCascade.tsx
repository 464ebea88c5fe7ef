import { useState } from "react";
import { Pill } from "../../parts/Pill";
import { Flex } from "../../parts/styled";
import { TextInput } from "../../parts/TextInput";
import { type Cascade, type useCascadeFacts, useKeptCascades } from "../../session/cascades";
import { say, sayProblem } from "../../state/page";

interface Props {
  cascade: Cascade;
  facts?: ReturnType<typeof useCascadeFacts>[number];
}

/** Keep a cascade in the project, among the ready-made ones. */
export function KeepCascade({ cascade, facts }: Props) {
  const { kept, keep } = useKeptCascades();
  const [name, setName] = useState("");
  const called = name.trim();
  const there = kept.some((one) => one.name === called);
  const keepIt = () => {
    if (!called || !facts) return;
    const length = Math.min(Math.max(Math.round(facts.total), 1), 100_000);
    keep({ name: called, length, cascade: cascade as never })
      .then(() => say(`“${called}” is kept: it is among the ready-made cascades of this project.`))
      .catch(sayProblem);
    setName("");
  };
  return (
    <Flex gap="1.5" mt="2">
      <TextInput
        aria-label="Name to keep the cascade by"
        placeholder="Keep for this project…"
        value={name}
        flex="1"
        minWidth="0"
        maxLength={200}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.repeat) keepIt();
          if (event.key === "Escape") setName("");
        }}
      />
      <Pill height="control" disabled={!called || !facts} onClick={keepIt}>
        {there ? "Replace" : "Keep"}
      </Pill>
    </Flex>
  );
}
