import { useRef, useState } from "react";
import { Window } from "../fields/Window";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { page, say, sayProblem, setPage, usePage } from "../state/page";
import { select } from "../state/selection";

type How = "one" | "each";

/** Asks how SVG files and pages of PDF come in, and takes them in. */
export function ArtDialog() {
  const add = useRef<HTMLButtonElement>(null);
  return (
    <Window name="art" title="Add vector art" width="420px" first={() => add.current}>
      <Ask add={add} />
    </Window>
  );
}

function Ask({ add }: { add: React.RefObject<HTMLButtonElement | null> }) {
  const session = useSession();
  const files = usePage((state) => state.art);
  const [how, setHow] = useState<How>("one");
  const layers = () => session.answer?.scene.layers ?? [];
  const take = async () => {
    // A second press finds nothing left to take.
    setPage({ dialog: null, art: [] });
    const sentences: string[] = [];
    let failed = false;
    for (const file of files) {
      say(`Taking ${file.name} in…`);
      const before = new Set(layers().map(({ id }) => id));
      const kept = await session.addArt(file, how === "each");
      const words = page().said?.text ?? "";
      failed ||= !kept;
      if (!kept) {
        sentences.push(words);
        continue;
      }
      const fresh = layers().flatMap(({ id }) => (before.has(id) ? [] : [id!]));
      select(...fresh);
      sentences.push(`Added ${file.name} as ${fresh.length === 1 ? "one layer" : `${fresh.length} layers`}.`);
      if (words.startsWith("Not taken in")) sentences.push(words);
    }
    if (failed) sayProblem(new Error(sentences.join(" ")));
    else say(sentences.join(" "), true);
  };
  return (
    <Flex direction="column" gap="3">
      <Text color="quiet">{files.map(({ name }) => name).join(", ")}</Text>
      <Choice<How>
        label="How it comes in"
        value={how}
        options={[
          ["one", "One shape layer"],
          ["each", "A layer for each top group"],
        ]}
        onChange={setHow}
      />
      <Text color="quiet" fontSize="row">
        Texts become text layers. The anchor is in the middle of each layer.
      </Text>
      <Flex justify="flex-end" gap="2">
        <Pill onClick={() => setPage({ dialog: null, art: [] })}>Cancel</Pill>
        <Pill ref={add} look="act" disabled={!files.length} onClick={() => void take()}>
          Add
        </Pill>
      </Flex>
    </Flex>
  );
}
