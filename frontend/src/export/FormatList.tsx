import type { FormatFacts } from "../api/client";
import { walkByArrows } from "../parts/arrowWalk";
import { Box, chakra, Flex, Text } from "../parts/styled";

const GROUPS = [
  ["film", "Films"],
  ["moving picture", "Moving"],
  ["sequence", "Sequences"],
  ["still", "Stills"],
  ["sound", "Sound"],
  ["web", "The web"],
  ["edit", "The edit"],
] as const;

interface Props {
  formats: Record<string, FormatFacts>;
  kind: string;
  set: (kind: string) => void;
}

/** All formats by what they are; the arrows walk. */
export function FormatList({ formats, kind, set }: Props) {
  return (
    <Box
      role="radiogroup"
      aria-label="Format"
      onKeyDown={(event: React.KeyboardEvent<HTMLElement>) => walkByArrows(event, (format) => format.click())}
    >
      {GROUPS.map(([group, title]) => (
        <Flex key={group} role="group" aria-label={title} mb="2.5" gap="2">
          <Text fontSize="title" fontWeight={600} width="78px" flexShrink={0} lineHeight="24px">
            {title}
          </Text>
          <Flex gap="1.5" flexWrap="wrap">
            {Object.entries(formats)
              .filter(([, format]) => format.group === group)
              .map(([name, { label }]) => (
                <chakra.button
                  key={name}
                  type="button"
                  role="radio"
                  aria-label={label}
                  aria-checked={kind === name}
                  tabIndex={kind === name ? 0 : -1}
                  px="2.5"
                  height="control"
                  borderRadius="full"
                  borderWidth="1px"
                  borderColor={kind === name ? "act" : "field"}
                  bg={kind === name ? "actWash" : "well"}
                  fontWeight={kind === name ? 600 : 400}
                  cursor="pointer"
                  onClick={() => set(name)}
                  _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
                >
                  {label.replace(/ (still|sequence)$/, "")}
                </chakra.button>
              ))}
          </Flex>
        </Flex>
      ))}
    </Box>
  );
}
