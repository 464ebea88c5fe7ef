import { useRef, useState } from "react";
import { Window } from "../fields/Window";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { foundIn } from "./keyList";

/** What this machine's keyboards have where others have Ctrl. */
const MODIFIER = /Mac|iP/.test(navigator.platform) ? "Cmd" : "Ctrl";

/** Every key and gesture, by what it is for, with a search. */
export function KeysDialog() {
  const search = useRef<HTMLInputElement>(null);
  return (
    <Window name="keys" title="Keys and gestures" width="860px" first={() => search.current}>
      <KeyList search={search} />
    </Window>
  );
}

function KeyList({ search }: { search: React.RefObject<HTMLInputElement | null> }) {
  const [words, setWords] = useState("");
  const found = foundIn(words);
  const own = (text: string) => text.replaceAll("Ctrl", MODIFIER);
  return (
    <>
      <TextInput
        ref={search}
        aria-label="Search keys and gestures"
        placeholder="Search"
        width="240px"
        mb="3"
        autoComplete="off"
        spellCheck={false}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {!found.length && (
        <Text color="quiet">
          No key or gesture is told with “{words}”. Try one word of what it does, such as “zoom”.
        </Text>
      )}
      <Box css={{ columns: 2, columnGap: "28px" }} aria-live="polite">
        {found.map(([title, lines]) => (
          <Box key={title} as="section" aria-label={title} mb="4">
            <Text as="h3" fontWeight={600} fontSize="title" mb="1" css={{ breakAfter: "avoid" }}>
              {title}
            </Text>
            {lines.map(([keys, does]) => (
              <Flex key={keys} gap="3" py="0.5" css={{ breakInside: "avoid" }}>
                <Box width="152px" flex="none">
                  <Caps keys={own(keys)} />
                </Box>
                <Text color="quiet">{own(does)}</Text>
              </Flex>
            ))}
          </Box>
        ))}
      </Box>
    </>
  );
}

/** Words and key caps: what stands between back quotes is a cap. */
function Caps({ keys }: { keys: string }) {
  return keys.split("`").map((part, i) =>
    i % 2 ? (
      <chakra.kbd
        key={i}
        display="inline-block"
        minWidth="20px"
        px="1"
        mr="2px"
        textAlign="center"
        fontSize="caption"
        lineHeight="17px"
        fontWeight={600}
        bg="well"
        borderWidth="1px"
        borderBottomWidth="2px"
        borderColor="field"
        borderRadius="5px"
      >
        {part}
      </chakra.kbd>
    ) : (
      part
    ),
  );
}
