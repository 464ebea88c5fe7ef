import { Type } from "lucide-react";
import type { Layer } from "../../api/client";
import { writtenBy } from "../../document/contents";
import { tracksOf, WRITTEN } from "../../document/tracks";
import { Block } from "../../fields/Block";
import { FormulaRow } from "../../formula";
import { useDraft } from "../../parts/draft";
import { Pill } from "../../parts/Pill";
import { chakra, Flex } from "../../parts/styled";
import { useSession } from "../../session/session";
import { setFormulaOpen, useFormulasOpen } from "../../state/formulas";
import { say } from "../../state/page";
import { type Letters, setSelection } from "../../state/selection";
import type { LayerKind } from "./kind";
import { unreadOf } from "./PaintRow";
import { StyleRow } from "./StyleRow";
import { TextBox } from "./TextBox";
import { TextLook } from "./TextLook";
import { chosenPart, type TextContent } from "./textScope";

const WORDS = { unit: "", parts: [""] };

/** The words of a text layer, how they look and how they stand. */
function TextBlock({ layer }: { layer: Layer }) {
  const content = layer.content as TextContent;
  const written = writtenBy(layer);
  const open = useFormulasOpen((state) => state[`${layer.id}.${WRITTEN}`] ?? false);
  const session = useSession();
  const set = (path: string, value: unknown) =>
    session.edit({ edit: "set_content", layer: layer.id!, path, value: value as never });
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
        </Flex>
      }
    >
      <Words
        layer={layer}
        text={content.text}
        keep={(text) => {
          setSelection({ letters: null });
          return set("text", text);
        }}
      />
      {(written || open) && <FormulaRow layer={layer} name={WRITTEN} label="Text" facts={WORDS} stored={written} />}
      <StyleRow layer={layer} />
      <TextLook layer={layer} />
      <TextBox layer={layer} />
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

/** What says nothing as it is: a mitre limit without mitred corners, a leading beside one in pixels, what a gradient's kind does not read. */
function unread(layer: Layer, letters: Letters | null): string[] {
  const content = layer.content as TextContent;
  // The numbers of parts are shown while their letters are chosen.
  const chosen = `content.parts.${chosenPart(layer, letters)}.`;
  const others = Object.keys(tracksOf(layer))
    .filter((name) => name.startsWith("content.parts.") && !name.startsWith(chosen))
    .map((name) => name.slice("content.".length));
  const strokes = [
    ["stroke", content.stroke] as const,
    ...(content.parts ?? []).map((part, i) => [`parts.${i}.stroke`, part.stroke] as const),
  ];
  const mitres = strokes.flatMap(([path, stroke]) => (stroke && stroke.join !== "miter" ? [`${path}.mitre`] : []));
  const leading = content.leading ? ["line_height"] : [];
  return [
    ...others,
    ...leading,
    ...mitres,
    ...(["fill", "stroke"] as const).flatMap((paint) => unreadOf(layer, paint)),
  ];
}

export const text: LayerKind = {
  kind: "text",
  icon: Type,
  name: () => "text",
  Block: TextBlock,
  unread,
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
