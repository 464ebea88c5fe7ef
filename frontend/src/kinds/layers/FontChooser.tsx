import { useVirtualizer } from "@tanstack/react-virtual";
import { ChevronDown } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Edit, Facts, Layer } from "../../api/client";
import { hasWords } from "../../document/contents";
import { Popover } from "../../parts/Popover";
import { CHOSEN_FROM, Select } from "../../parts/Select";
import { Box, chakra, Flex, Text } from "../../parts/styled";
import { TextInput } from "../../parts/TextInput";
import { facesOf } from "../../session/fontFaces";
import { useFontFacts, useProjectFonts } from "../../session/projectFonts";
import { useSession } from "../../session/session";
import { useScene } from "../../session/useScene";

export type Font = { family: string; weight: number; italic: boolean };
type Family = Facts["fonts"][number];

const ROW = 46;

/** A font in another family: of a weight and a slant that it has not the nearest. */
export function inFamily(font: Font, family: Family): Font {
  const near = (a: number, b: number) => Math.abs(a - font.weight) - Math.abs(b - font.weight);
  return {
    family: family.name,
    weight: [...family.weights].sort(near)[0],
    italic: font.italic && family.italic,
  };
}

interface Props {
  layer: Layer;
  font: Font;
  /** What is written: it is what the families are shown with. */
  text: string;
  /** The edits that set another font of what is meant: of all letters, of those that are chosen, of several texts. */
  edit: (font: Font) => Edit | Edit[];
}

/** The family of a text: all that are installed, in their own shapes, tried on the stage by the arrows. */
export function FontChooser({ layer, font, text, edit }: Props) {
  return (
    <Popover
      label="Fonts"
      width="300px"
      placement="bottom-end"
      testId="fonts"
      trigger={
        <chakra.button
          type="button"
          aria-label={`Font: ${font.family}`}
          disabled={layer.locked}
          display="flex"
          alignItems="center"
          flex="1"
          minWidth="0"
          pr="1"
          cursor="pointer"
          {...CHOSEN_FROM}
        >
          <chakra.span flex="1" textAlign="left" truncate>
            {font.family}
          </chakra.span>
          <Box color="quiet">
            <ChevronDown size={12} aria-hidden />
          </Box>
        </chakra.button>
      }
    >
      {(close) => <Families layer={layer} font={font} text={text} edit={edit} close={close} />}
    </Popover>
  );
}

function Families({ font, text, edit: edited, close }: Props & { close: () => void }) {
  const session = useSession();
  const facts = useFontFacts();
  const project = useProjectFonts();
  const { scene } = useScene();
  const [words, setWords] = useState("");
  const [kind, setKind] = useState("");
  const [script, setScript] = useState("");
  const [at, setAt] = useState<number | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const taken = useRef(false);
  // What is being tried is no use: the list stays as it was when it was opened.
  const [used] = useState(
    () =>
      new Set(
        (scene.layers ?? []).flatMap(({ content }) => (hasWords(content) ? [content.font?.family ?? "Figtree"] : [])),
      ),
  );
  const elsewhere = useMemo(() => new Set(project.used), [project.used]);
  const own = useMemo(() => new Set(project.families.map(({ name }) => name)), [project.families]);
  const found = useMemo(() => {
    const asked = words.trim().toLowerCase();
    const fits = facts.fonts.filter(
      (one) =>
        ` ${one.name.toLowerCase()}`.includes(` ${asked}`) &&
        (!kind || one.kinds.includes(kind)) &&
        (!script || one.scripts.includes(script)),
    );
    // What this scene is set in, then what other scenes of the project are, then the project's own.
    const rank = ({ name }: Family) => (used.has(name) ? 0 : elsewhere.has(name) ? 1 : own.has(name) ? 2 : 3);
    return [0, 1, 2, 3].flatMap((place) => fits.filter((one) => rank(one) === place));
  }, [facts, words, kind, script, used, elsewhere, own]);
  const rows = useVirtualizer({
    count: found.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 1,
  });
  const [began] = useState(font);
  const edit = (family: Family) => [edited(inFamily(began, family))].flat();
  useEffect(
    () => () => {
      if (!taken.current) session.cancel();
    },
    [session],
  );
  const go = (next: number) => {
    if (!found.length) return;
    const index = Math.min(Math.max(next, 0), found.length - 1);
    setAt(index);
    rows.scrollToIndex(index, { align: "auto" });
    session.try(edit(found[index]));
  };
  const take = (family: Family) => {
    taken.current = true;
    if (family.name === began.family) session.cancel();
    else void session.edit(...edit(family));
    close();
  };
  const sample = text.split("\n")[0].trim().slice(0, 40);
  const every = (part: "kinds" | "scripts") => [...new Set(facts.fonts.flatMap((one) => one[part]))].sort();
  return (
    <Box
      onKeyDown={(event: React.KeyboardEvent) => {
        const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 6, PageUp: -6 }[event.key];
        const choosing = (event.target as Element).tagName === "SELECT";
        if (step && !choosing) go(at === null ? (step > 0 ? 0 : found.length - 1) : at + step);
        else if (event.key === "Enter" && !choosing && !event.repeat && found.length) take(found[at ?? 0]);
        else return;
        event.preventDefault();
      }}
    >
      <TextInput
        role="combobox"
        aria-label="Search fonts"
        aria-expanded
        aria-controls="font-list"
        aria-activedescendant={at === null ? undefined : `font-${at}`}
        placeholder="Search"
        width="100%"
        autoComplete="off"
        spellCheck={false}
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setAt(null);
          session.cancel();
        }}
      />
      <Flex gap="1.5" mt="1.5">
        <Select
          label="Kind of font"
          stays
          value={kind}
          options={[["", "any kind"], ...every("kinds").map((one): [string, string] => [one, one])]}
          onChange={(one) => {
            setKind(one);
            setAt(null);
          }}
        />
        <Select
          label="Has letters of"
          stays
          value={script}
          options={[
            ["", "any script"],
            ...every("scripts").map((one): [string, string] => [one, `has ${one[0].toUpperCase()}${one.slice(1)}`]),
          ]}
          onChange={(one) => {
            setScript(one);
            setAt(null);
          }}
        />
      </Flex>
      <Box
        ref={list}
        id="font-list"
        role="listbox"
        aria-label="Fonts"
        height="290px"
        overflowY="auto"
        mt="2"
        mx="-1.5"
        position="relative"
        tabIndex={-1}
      >
        {!found.length && (
          <Text color="quiet" px="1.5">
            No font is called so. Drop a font file on the page (TTF, OTF, TTC, WOFF, WOFF2), or install a package of
            fonts.
          </Text>
        )}
        <Box position="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const family = found[index];
            const on = index === at;
            return (
              <chakra.button
                key={family.name}
                type="button"
                id={`font-${index}`}
                role="option"
                aria-selected={family.name === began.family}
                tabIndex={-1}
                position="absolute"
                left="0"
                right="0"
                height={`${ROW}px`}
                px="1.5"
                textAlign="left"
                borderRadius="control"
                cursor="pointer"
                bg={on ? "actWash" : undefined}
                _hover={{ bg: "actWash" }}
                style={{ top: start }}
                onClick={() => take(family)}
              >
                <Flex fontSize="caption" lineHeight="13px" color="quiet" gap="1.5">
                  <Box flex="1" truncate>
                    {family.name}
                  </Box>
                  <Box>
                    {used.has(family.name)
                      ? "in this scene"
                      : elsewhere.has(family.name)
                        ? "in this project"
                        : own.has(family.name) && "the project’s own"}
                  </Box>
                </Flex>
                <Box
                  fontSize="19px"
                  lineHeight="28px"
                  whiteSpace="nowrap"
                  overflow="hidden"
                  dir="auto"
                  data-sample=""
                  style={{
                    fontFamily: facesOf(family.name, facts),
                    fontWeight: inFamily(began, family).weight,
                  }}
                >
                  {sample}
                </Box>
              </chakra.button>
            );
          })}
        </Box>
      </Box>
    </Box>
  );
}
