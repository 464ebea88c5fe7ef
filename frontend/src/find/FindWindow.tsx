import { useDeferredValue, useEffect, useRef, useState } from "react";
import { Window } from "../fields/Window";
import { toStage } from "../parts/focus";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { page, say, setPage } from "../state/page";
import type { Command, Entry } from "./command";
import { ranked } from "./ranked";
import { useEntries } from "./useEntries";
import { useSentence } from "./useSentence";

interface Props {
  commands: Command[];
  go: (address: string) => void;
}

/** One line that finds whatever can be done, and does it. */
export function FindWindow(props: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Window name="find" title="Find anything" width="620px" first={() => input.current}>
      <Finder {...props} input={input} />
    </Window>
  );
}

const USED = "mudskipper.found";
function used(): Record<string, number> {
  try {
    return JSON.parse(localStorage.getItem(USED) ?? "{}") ?? {};
  } catch {
    return {}; // not what was written here
  }
}

function Finder({ commands, go, input }: Props & { input: React.RefObject<HTMLInputElement | null> }) {
  const [typed, setTyped] = useState("");
  /** What begins with @ goes somewhere; so does all that is typed where that was asked for. */
  const [goes] = useState(() => page().typed === "@");
  const asked = useDeferredValue(goes ? `@${typed}` : typed);
  const [at, setAt] = useState(0);
  const entries = useEntries(commands, go);
  const { said, waiting } = useSentence(asked);
  const found = asked.startsWith("@") ? said : [...said, ...ranked(entries, asked, used())];
  const chosen = Math.min(at, found.length - 1);
  /** Enter was pressed before what is typed was looked for: it takes what is found then. */
  const entered = useRef(false);
  const late = waiting || asked !== (goes ? `@${typed}` : typed);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => setPage({ typed: "" }), []);
  useEffect(() => {
    list.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  });
  useEffect(() => {
    if (!entered.current || late) return;
    entered.current = false;
    take(found[chosen]);
  });
  const take = (entry: Entry | undefined) => {
    if (!entry) return;
    if (entry.not) {
      say(entry.not.trim() || entry.name);
      return;
    }
    const counts = used();
    const name = `${entry.kind} ${entry.name}`;
    counts[name] = Math.min((counts[name] ?? 0) + 1, 50);
    localStorage.setItem(USED, JSON.stringify(counts));
    setPage({ dialog: null });
    // The window gives the keyboard back before what was chosen takes it.
    setTimeout(() => {
      toStage(null);
      void entry.run();
    }, 0);
  };
  return (
    <Box>
      <TextInput
        ref={input}
        role="combobox"
        aria-label={goes ? "Go to" : "Find"}
        aria-expanded
        aria-controls="found"
        aria-activedescendant={found.length ? `found-${chosen}` : undefined}
        placeholder={goes ? "2:00, +12, 1.5s, a beat or a layer" : "rotation 45 · fade · a layer’s name · @ 2:00"}
        value={typed}
        width="100%"
        height="34px"
        fontSize="name"
        autoComplete="off"
        spellCheck={false}
        maxLength={300}
        data-typing="yes"
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown" || event.key === "ArrowUp") {
            event.preventDefault();
            const step = event.key === "ArrowDown" ? 1 : -1;
            setAt((chosen + step + found.length) % Math.max(found.length, 1));
          }
          if (event.key === "Enter" && !event.repeat && !event.nativeEvent.isComposing) {
            event.preventDefault();
            if (late) entered.current = true;
            else take(found[chosen]);
          }
        }}
      />
      <Box
        ref={list}
        id="found"
        role="listbox"
        data-asked={late ? undefined : typed}
        aria-label="Found"
        mt="2"
        height="380px"
        overflowY="auto"
      >
        {found.map((entry, index) => (
          <Line
            key={index}
            id={`found-${index}`}
            entry={entry}
            on={index === chosen}
            point={() => setAt(index)}
            take={() => take(entry)}
          />
        ))}
        {!found.length && (
          <Text color="quiet" px="2" py="1">
            {asked.startsWith("@")
              ? "Type a time (45, +12, 1:10, 1.5s), or the name of a beat or of a layer."
              : `Nothing is found by “${asked.trim()}”. Try one word of what it does.`}
          </Text>
        )}
      </Box>
    </Box>
  );
}

interface LineProps {
  id: string;
  entry: Entry;
  on: boolean;
  point: () => void;
  take: () => void;
}

function Line({ id, entry, on, point, take }: LineProps) {
  return (
    <Flex
      id={id}
      role="option"
      aria-selected={on}
      aria-disabled={Boolean(entry.not)}
      align="center"
      gap="2"
      px="2"
      minHeight="29px"
      borderRadius="control"
      cursor="pointer"
      bg={on ? "actWash" : undefined}
      opacity={entry.not ? 0.6 : 1}
      onPointerMove={() => on || point()}
      onClick={take}
    >
      <Text truncate fontWeight={on ? 600 : 400}>
        {entry.name}
      </Text>
      <Box flex="1" />
      {entry.not ? (
        <Text color="quiet" fontSize="caption" truncate>
          {entry.not}
        </Text>
      ) : (
        <chakra.span color="quiet" fontSize="caption" whiteSpace="nowrap">
          {entry.keys ?? entry.kind}
        </chakra.span>
      )}
    </Flex>
  );
}
