import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, type Edit, type Layer, need, type PropertyFacts, type Track } from "../api/client";
import { useDraft } from "../parts/draft";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { useScene } from "../studio/document";
import { setFormulaOpen } from "../studio/formulas";
import { useSession } from "../studio/session";
import { FormulaPlot } from "./FormulaPlot";

interface Props {
  layer: Layer;
  name: string;
  label: string;
  facts: PropertyFacts;
  track: Track;
}

/** How long a text rests before it is asked what it gives, in milliseconds. */
const REST = 150;

/** What may be written in formulas; the same as long as the page is open. */
const NAMES = {
  queryKey: ["expressions"],
  queryFn: () => need(api.GET("/api/expressions")),
  staleTime: Number.POSITIVE_INFINITY,
};

/** The word before the caret, and where it begins. */
function wordAt(field: HTMLTextAreaElement): [string, number] {
  const before = field.value.slice(0, field.selectionStart);
  const word = /[A-Za-z_]\w*$/.exec(before)?.[0] ?? "";
  return [word, before.length - word.length];
}

/** The formula of a property: its text, what it gives, what is wrong with it and what mends that. */
export function FormulaRow({ layer, name, label, facts, track }: Props) {
  const session = useSession();
  const { scene, revision } = useScene();
  const id = layer.id!;
  const stored = track.expression ?? "";
  const [text, setText] = useState(stored);
  const [offered, setOffered] = useState<{ word: string; from: number; picked: number } | null>(null);
  const [frame, setFrame] = useState(session.frames.frame);
  const asked = useRested(text);
  useEffect(() => session.frames.subscribeCalmly(() => setFrame(session.frames.frame)), [session]);
  useEffect(() => setText(stored), [stored]);
  const edit = (text: string): Edit => ({ edit: "set_expression", layer: id, property: name, text });
  const { ref, props } = useDraft<HTMLTextAreaElement>({
    shown: () => stored,
    take: (text) => session.edit(edit(text)),
    tried: (text) => {
      setText(text);
      session.try([edit(text)]);
    },
    dropped: () => {
      setText(stored);
      session.cancel();
    },
  });
  const { data: known } = useQuery(NAMES);
  const { data: answer } = useQuery({
    queryKey: ["formula", session.sceneId, id, name, asked, frame, revision, session.innerVersion],
    queryFn: () =>
      need(
        api.POST("/api/scenes/{scene_id}/formula", {
          params: { path: { scene_id: session.sceneId } },
          body: { layer: id, property: name, text: asked, frame },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const problem = text.trim() ? answer?.problem : null;
  const words = (numbers: number[] | undefined) =>
    numbers?.map((n) => String(Math.round(n * 100) / 100)).join(", ") ?? "";

  const fits = offered
    ? (known?.names ?? []).filter((one) => one.name.startsWith(offered.word) && one.name !== offered.word).slice(0, 6)
    : [];
  const put = (word: string, from: number, until: number) => {
    const field = ref.current!;
    field.focus();
    field.setSelectionRange(from, until);
    // As if it were typed, so that the field's own undo knows it.
    document.execCommand("insertText", false, word);
    setOffered(null);
  };
  const keep = (text: string) => {
    setText(text);
    void session.edit(edit(text));
  };
  const other = (scene.layers ?? []).find((one) => one.id !== layer.id && one.content.kind !== "sound")?.name ?? "Name";
  const ready = (need: string) => {
    const found = known?.ready.find((one) => one.need === need);
    if (!found) return;
    const slug = name.split(".").at(-1)!;
    const chosen = facts.parts.length > 1 ? found.pair : found.number;
    keep(chosen.replaceAll("{layer}", other).replaceAll("{property}", slug));
  };
  const rows = Math.min(Math.max(text.split("\n").length, 1), 8);
  return (
    <Box role="group" aria-label={`Formula of ${label}`} pb="2" data-testid="formula-row">
      <Box position="relative">
        <chakra.textarea
          {...props}
          aria-label={`Formula of ${label}`}
          aria-describedby={problem ? `${id}.${name}.wrong` : undefined}
          data-wrong={problem ? "yes" : ""}
          defaultValue={stored}
          rows={rows}
          disabled={layer.locked}
          spellCheck={false}
          autoComplete="off"
          placeholder="base + t * 30"
          onKeyDown={(event) => {
            if (fits.length && offered) {
              const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
              if (way) {
                event.preventDefault();
                setOffered({ ...offered, picked: (offered.picked + way + fits.length) % fits.length });
                return;
              }
              if (event.key === "Tab" && !event.shiftKey) {
                event.preventDefault();
                const one = fits[offered.picked] ?? fits[0];
                put(one.name + (one.function ? "(" : ""), offered.from, event.currentTarget.selectionStart);
                return;
              }
              if (event.key === "Escape") {
                event.preventDefault();
                event.stopPropagation();
                setOffered(null);
                return;
              }
            }
            if (event.key === "Enter" && event.shiftKey) return;
            props.onKeyDown(event);
          }}
          onInput={() => {
            props.onInput();
            const [word, from] = wordAt(ref.current!);
            setOffered(word ? { word, from, picked: 0 } : null);
          }}
          onBlur={() => {
            setOffered(null);
            props.onBlur();
          }}
          width="100%"
          px="2"
          py="1"
          bg="well"
          borderWidth="1px"
          borderColor={problem ? "findingInk" : "edge"}
          borderRadius="7px"
          fontFamily="mono"
          fontSize="12.5px"
          lineHeight="1.45"
          resize="none"
          _focusVisible={{ outline: "1px solid", outlineColor: "act", borderColor: "act" }}
        />
        {fits.length > 0 && offered && (
          <Box
            role="listbox"
            aria-label="Names that fit"
            position="absolute"
            left="0"
            right="0"
            top="100%"
            zIndex="3"
            bg="paper"
            borderWidth="1px"
            borderColor="edge"
            borderRadius="8px"
            boxShadow="lg"
            p="1"
          >
            {fits.map((one, index) => (
              <Flex
                key={one.name}
                role="option"
                aria-selected={index === offered.picked}
                gap="2"
                px="1.5"
                py="0.5"
                borderRadius="6px"
                cursor="pointer"
                bg={index === offered.picked ? "actWash" : undefined}
                onPointerDown={(event) => {
                  event.preventDefault();
                  put(one.name + (one.function ? "(" : ""), offered.from, ref.current!.selectionStart);
                }}
              >
                <Text fontFamily="mono" fontSize="12px" whiteSpace="nowrap">
                  {one.written}
                </Text>
                <Text fontSize="11.5px" color="quiet" truncate>
                  {one.unit && `${one.unit} · `}
                  {one.sentence}
                </Text>
              </Flex>
            ))}
          </Box>
        )}
      </Box>
      {problem && (
        <Box
          id={`${id}.${name}.wrong`}
          role="alert"
          bg="finding"
          color="findingInk"
          borderRadius="8px"
          px="2"
          py="1"
          mt="1"
          fontSize="12.5px"
          data-testid="formula-problem"
        >
          <Text>{problem.sentence}</Text>
          {!problem.frames?.length && text.includes("\n") && (
            <Text fontSize="11.5px">{`Line ${problem.line}, column ${problem.column}`}</Text>
          )}
          {(problem.mends ?? []).map((mend) => (
            <Pill
              key={mend.text}
              height="23px"
              px="2"
              mt="1"
              mr="1"
              title={mend.text}
              onPointerDown={(event) => event.preventDefault()}
              onClick={() => {
                if (ref.current) {
                  ref.current.value = mend.text;
                  delete ref.current.dataset.typing;
                }
                keep(mend.text);
              }}
            >
              {mend.text.length <= 44 && !mend.text.includes("\n") ? `Write ${mend.text}` : mend.label}
            </Pill>
          ))}
        </Box>
      )}
      {answer && text.trim() !== "" && (
        <Flex align="center" gap="2" mt="1">
          <Text fontSize="12px" data-testid="formula-value" title="At the playhead">
            {`= ${words(answer.value)}${facts.unit ? ` ${facts.unit}` : ""}`}
          </Text>
          <Text fontSize="11.5px" color="quiet">{`base ${words(answer.base)}`}</Text>
          <Box flex="1" />
          <FormulaPlot plot={answer.plot} plain={answer.plain} />
        </Flex>
      )}
      <Flex gap="1.5" mt="1" wrap="wrap">
        <Select
          label={`Ready formulas for ${label}`}
          width="128px"
          value=""
          disabled={layer.locked}
          options={[
            ["", "Ready formulas…"],
            ...(known?.ready ?? []).map((one): [string, string] => [one.need, one.need]),
          ]}
          onChange={(need) => ready(need)}
        />
        {stored && (
          <>
            <Pill
              height="24px"
              px="2"
              disabled={layer.locked}
              onClick={() => void session.edit({ edit: "write_as_keys", layer: id, property: name } as Edit)}
            >
              Write as keys
            </Pill>
            <Pill height="24px" px="2" disabled={layer.locked} onClick={() => keep("")}>
              Take it off
            </Pill>
          </>
        )}
        {!stored && (
          <Pill height="24px" px="2" onClick={() => setFormulaOpen(id, name, false)}>
            Close
          </Pill>
        )}
      </Flex>
    </Box>
  );
}

/** A text once it rests. */
function useRested(text: string): string {
  const [rested, set] = useState(text);
  const timer = useRef(0);
  useEffect(() => {
    timer.current = window.setTimeout(() => set(text), REST);
    return () => window.clearTimeout(timer.current);
  }, [text]);
  return rested;
}
