import { Type } from "lucide-react";
import type { Layer } from "../../api/client";
import { writtenBy } from "../../document/contents";
import { WRITTEN } from "../../document/tracks";
import { Block } from "../../fields/Block";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { FormulaRow } from "../../formula";
import { useDraft } from "../../parts/draft";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { chakra, Flex } from "../../parts/styled";
import { useSession } from "../../session/session";
import { useFacts } from "../../session/useScene";
import { setFormulaOpen, useFormulasOpen } from "../../state/formulas";
import { say } from "../../state/page";
import { type Font, FontChooser } from "./FontChooser";
import type { LayerKind } from "./kind";

type TextContent = Extract<Layer["content"], { kind?: "text" }>;

const WORDS = { unit: "", parts: [""] };

/** The words of a text layer, its font and alignment. */
function TextBlock({ layer }: { layer: Layer }) {
  const content = layer.content as TextContent;
  const facts = useFacts();
  const written = writtenBy(layer);
  const open = useFormulasOpen((state) => state[`${layer.id}.${WRITTEN}`] ?? false);
  const session = useSession();
  const set = (path: string, value: unknown) =>
    session.edit({ edit: "set_content", layer: layer.id!, path, value: value as never });
  const font = content.font!;
  const family = facts.fonts.find((one) => one.name === font.family);
  const weights = family?.weights ?? [];
  return (
    <Block
      name="Text"
      beside={
        <Flex ml="auto" align="center" gap="2.5">
          <Pill
            px="2"
            disabled={layer.locked}
            label="Plate behind it"
            title="A rounded box behind it, carried by it, as large as it is whatever it says"
            onClick={() =>
              void session
                .edit({ edit: "put_plate", layer: layer.id!, frame: session.frames.frame })
                .then((kept) => kept && say(`Put a plate behind ${layer.name}: its size follows the words.`, true))
            }
          >
            Plate
          </Pill>
          {!written && !open && (
            <Pill
              height="control"
              px="2"
              fontFamily="mono"
              fontSize="caption"
              disabled={layer.locked}
              label="f(t): write it by a formula…"
              title="Write it by a formula: a number that counts, a clock, letters that come one by one"
              onClick={() => setFormulaOpen(layer.id!, WRITTEN, true)}
            >
              f(t)
            </Pill>
          )}
          {family?.italic && (
            <chakra.label display="inline-flex" gap="1.5" alignItems="center">
              <input
                type="checkbox"
                checked={font.italic}
                onChange={(event) => void set("font", { ...font, italic: event.target.checked })}
              />
              Italic
            </chakra.label>
          )}
        </Flex>
      }
    >
      <Words layer={layer} text={content.text} keep={(text) => set("text", text)} />
      {(written || open) && <FormulaRow layer={layer} name={WRITTEN} label="Text" facts={WORDS} stored={written} />}
      <Row label="Font">
        <RowLabel>Font</RowLabel>
        <FontChooser layer={layer} font={font as Font} text={content.text} />
      </Row>
      <Row label="Weight and alignment">
        <RowLabel>Weight</RowLabel>
        <Select
          label="Weight"
          value={String(font.weight)}
          onChange={(value) => void set("font", { ...font, weight: Number(value) })}
          options={[...new Set([...weights, font.weight])].sort((a, b) => a - b).map(String)}
          width="57px"
        />
        <Select
          label="Alignment"
          value={content.align ?? "left"}
          onChange={(value) => void set("align", value)}
          options={["left", "centre", "right"]}
        />
      </Row>
    </Block>
  );
}

interface WordsProps {
  layer: Layer;
  text: string;
  keep: (text: string) => Promise<boolean>;
}

/** The words themselves: shown on the stage while they are typed, taken by Ctrl or Cmd Enter or by leaving them. */
function Words({ layer, text, keep }: WordsProps) {
  const session = useSession();
  const { props } = useDraft<HTMLTextAreaElement>({
    shown: () => text,
    take: keep,
    tried: (value) => {
      if (value.trim()) session.try([{ edit: "set_content", layer: layer.id!, path: "text", value: value as never }]);
    },
    dropped: () => session.cancel(),
    lines: true,
  });
  return (
    <chakra.textarea
      {...props}
      aria-label="Text"
      dir="auto"
      rows={Math.min(text.split("\n").length, 6)}
      width="100%"
      bg="well"
      borderWidth="1px"
      borderColor="field"
      borderRadius="control"
      px="2"
      py="1"
      disabled={layer.locked}
      _invalid={{ borderColor: "anchorInk" }}
    />
  );
}

export const text: LayerKind = {
  kind: "text",
  icon: Type,
  name: () => "text",
  Block: TextBlock,
  added: {
    label: "Text",
    makes: ({ height }) => ({
      kind: "text",
      text: "New title",
      align: "centre",
      size: { rest: Math.max(Math.round(height / 9), 8), keys: [] },
    }),
  },
};
