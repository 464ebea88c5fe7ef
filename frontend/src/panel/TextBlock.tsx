import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import type { Facts, Layer } from "../api/client";
import { Select } from "../parts/Select";
import { useSession } from "../scene/session";

type TextContent = Extract<Layer["content"], { kind?: "text" }>;

/** The words of a text layer, its font and alignment. */
export function TextBlock({ layer, content, facts }: { layer: Layer; content: TextContent; facts: Facts }) {
  const session = useSession();
  const set = (path: string, value: unknown) =>
    void session.edit({ edit: "set_content", layer: layer.id!, path, value: value as never });
  const font = content.font!;
  const family = facts.fonts.find((one) => one.name === font.family);
  const weights = family ? range(family.lightest, family.heaviest) : [font.weight];
  const choose = (name: string) => {
    const next = facts.fonts.find((one) => one.name === name)!;
    const weight = Math.min(Math.max(font.weight, next.lightest), next.heaviest);
    set("font", { family: name, weight, italic: font.italic && next.italic });
  };
  return (
    <Box borderTopWidth="1px" borderColor="edge" pt="2" role="group" aria-label="Text">
      <Text fontWeight={700} mb="1.5">
        Text
      </Text>
      <chakra.textarea
        key={content.text}
        aria-label="Text"
        defaultValue={content.text}
        rows={Math.min(content.text.split("\n").length + 1, 6)}
        width="100%"
        bg="well"
        borderWidth="1px"
        borderColor="edge"
        borderRadius="8px"
        px="2"
        py="1"
        disabled={layer.locked}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Escape") {
            event.currentTarget.value = content.text;
            event.currentTarget.blur();
          } else if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) event.currentTarget.blur();
        }}
        onInput={(event) => {
          const value = event.currentTarget.value;
          if (value.trim())
            session.try([{ edit: "set_content", layer: layer.id!, path: "text", value: value as never }]);
        }}
        onBlur={(event) => {
          if (event.currentTarget.value !== content.text) set("text", event.currentTarget.value);
          else session.cancel();
        }}
      />
      <Flex gap="1.5" mt="1.5">
        <Select label="Font" value={font.family} onChange={choose} options={facts.fonts.map((one) => one.name)} />
        <Select
          label="Weight"
          value={String(font.weight)}
          onChange={(value) => set("font", { ...font, weight: Number(value) })}
          options={[...new Set([...weights, font.weight])].sort((a, b) => a - b).map(String)}
          width="74px"
        />
        <Select
          label="Alignment"
          value={content.align ?? "left"}
          onChange={(value) => set("align", value)}
          options={["left", "centre", "right"]}
          width="78px"
        />
      </Flex>
      {family?.italic && (
        <chakra.label display="inline-flex" gap="1.5" mt="2" alignItems="center">
          <input
            type="checkbox"
            checked={font.italic}
            onChange={(event) => set("font", { ...font, italic: event.target.checked })}
          />
          Italic
        </chakra.label>
      )}
    </Box>
  );
}

const range = (from: number, to: number) => Array.from({ length: (to - from) / 100 + 1 }, (_, i) => from + i * 100);
