import { Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import { Window } from "../fields/Window";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { page, say, setPage, usePage } from "../studio/page";
import { select } from "../studio/selection";
import { useSession } from "../studio/session";

type How = "one" | "each";

/** Asks how SVG files come in, and takes them in. */
export function ArtDialog() {
  return (
    <Window name="art" title="Add vector art" width="420px">
      <Ask />
    </Window>
  );
}

function Ask() {
  const session = useSession();
  const files = usePage((state) => state.art);
  const [how, setHow] = useState<How>("one");
  const add = useRef<HTMLButtonElement>(null);
  useEffect(() => add.current?.focus(), []);
  const take = async () => {
    // A second press finds nothing left to take.
    setPage({ dialog: null, art: [] });
    for (const file of files) {
      say(`Taking ${file.name} in…`);
      const before = new Set((session.answer?.scene.layers ?? []).map(({ id }) => id));
      if (!(await session.addArt(file, how === "each"))) return;
      const fresh = (session.answer?.scene.layers ?? []).flatMap(({ id }) => (before.has(id) ? [] : [id!]));
      select(...fresh);
      const many = fresh.length === 1 ? "one layer" : `${fresh.length} layers`;
      if (page().said?.text === `Taking ${file.name} in…`) say(`Added ${file.name} as ${many}.`, true);
    }
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
      <Text color="quiet" fontSize="12.5px">
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
