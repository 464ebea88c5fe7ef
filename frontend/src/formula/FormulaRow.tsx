import type { EditorView } from "@codemirror/view";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, type Edit, type Layer, need, type PropertyFacts } from "../api/client";
import { heardOnly } from "../document/contents";
import { WRITTEN } from "../document/tracks";
import { type Field, useDraft } from "../parts/draft";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { setFormulaOpen, useCopied } from "../state/formulas";
import { say } from "../state/page";
import { FormulaEditor } from "./FormulaEditor";
import { FormulaPlot } from "./FormulaPlot";
import type { Stretch } from "./language";
import { NumberSlider } from "./NumberSlider";
import { foresee, layersIn, layersOf, NAMES } from "./names";
import { PointAt } from "./PointAt";
import { ReadyForms } from "./ReadyForms";
import { Told } from "./Told";

interface Props {
  layer: Layer;
  name: string;
  label: string;
  facts: Pick<PropertyFacts, "unit" | "parts">;
  /** The formula as it is stored. */
  stored: string;
}

/** How long a text rests before it is asked what it gives, in milliseconds. */
const REST = 150;

/** The formula of a property: its text, what it gives, what is wrong with it and what mends that. */
export function FormulaRow({ layer, name, label, facts, stored }: Props) {
  const session = useSession();
  const queries = useQueryClient();
  const { scene, revision } = useScene();
  const id = layer.id!;
  const [text, setText] = useState(stored);
  const [number, setNumber] = useState<Stretch | null>(null);
  const [frame, setFrame] = useState(session.frames.frame);
  const editor = useRef<EditorView>(null);
  const row = useRef<HTMLDivElement>(null);
  const readying = useRef(false);
  const asked = useRested(text);
  const version = `${revision} ${session.innerVersion}`;
  const writes = name === WRITTEN;
  const unit = facts.unit ?? "";
  useEffect(() => session.frames.subscribeCalmly(() => setFrame(session.frames.frame)), [session]);
  const edit = (text: string): Edit => ({ edit: "set_formula", layer: id, property: name, text });
  const draft = useDraft<Field>({
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
  const { typing } = draft;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what arrives meanwhile never replaces a draft
  useEffect(() => {
    if (!typing()) setText(stored);
  }, [stored]);
  // Whatever was tried and not taken when the row goes is given back.
  const left = useRef(typing);
  left.current = typing;
  useEffect(() => () => void (left.current() && session.cancel()), [session]);
  const { data: known } = useQuery(NAMES);
  const { data: answer } = useQuery({
    queryKey: ["formula", session.sceneId, id, name, asked, frame, version],
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
  const place = useMemo(
    () => ({ session, layer: id, property: name, unit, version, queries, layers: () => layersIn(scene) }),
    [session, id, name, unit, version, queries, scene],
  );
  useEffect(() => {
    void foresee(place);
  }, [place]);
  const layers = useCallback(() => layersOf(place), [place]);
  const problem = text.trim() ? (answer?.problem ?? null) : null;
  const hints = text.trim() && !problem ? (answer?.hints ?? []) : [];

  /** Put text where the caret is, as if it were typed. */
  const insert = useCallback((words: string) => {
    const view = editor.current;
    if (!view) return;
    view.focus();
    view.dispatch({ ...view.state.replaceSelection(words), userEvent: "input.point" });
  }, []);
  /** Put a whole text in place of what stands there, as if it were typed. */
  const put = (words: string) =>
    editor.current?.dispatch({
      changes: { from: 0, to: editor.current.state.doc.length, insert: words },
      selection: { anchor: words.length },
      userEvent: "input.ready",
    });
  const keep = (text: string) => {
    setText(text);
    void session.edit(edit(text));
  };
  const others = (scene.layers ?? [])
    .filter((one) => one.id !== id.split("/")[0] && !heardOnly(one.content))
    .map((one) => one.name ?? "");
  const wrong = useMemo(
    () =>
      problem && !problem.frames?.length ? { line: problem.line, column: problem.column, end: problem.end } : null,
    [problem],
  ) as { line: number; column: number; end: number } | null;
  const act = (edit: string) => () => void session.edit({ edit, layer: id, property: name } as Edit);
  return (
    <Box
      ref={row}
      role="group"
      aria-label={`Formula of ${label}`}
      pb="2"
      data-testid="formula-row"
      data-formula={`${id}.${name}`}
      onBlur={(event) => {
        // Left for something outside, a draft is taken; a ready formula waits for its own buttons.
        if (!readying.current && !row.current?.contains(event.relatedTarget)) draft.props.onBlur();
      }}
    >
      <Box position="relative" css={stored ? undefined : { "& .cm-content": { paddingRight: "22px" } }}>
        <FormulaEditor
          layer={id}
          name={name}
          unit={unit}
          version={version}
          label={`Formula of ${label}`}
          disabled={layer.locked ?? false}
          draft={draft}
          wrong={wrong}
          describedBy={problem ? `${id}.${name}.wrong` : undefined}
          onNumber={setNumber}
          view={editor}
        />
        {!stored && (
          <Box position="absolute" top="5px" right="4px">
            <IconButton label="Close the formula" onClick={() => setFormulaOpen(id, name, false)}>
              <X size={13} />
            </IconButton>
          </Box>
        )}
      </Box>
      {number && editor.current && !layer.locked && (
        <NumberSlider key={number.from} editor={editor.current} from={number.from} take={() => void draft.take()} />
      )}
      {problem && <Told id={`${id}.${name}.wrong`} problem={problem} place={text.includes("\n")} put={mend} />}
      {hints.map((hint) => (
        <Told key={hint.sentence} id={`${id}.${name}.${hint.column}`} problem={hint} hint place={false} put={mend} />
      ))}
      {answer && text.trim() !== "" && (
        <Flex align="center" gap="2" mt="1">
          <Text fontSize="row" data-testid="formula-value" title="At the playhead" truncate>
            {writes
              ? `= ${answer.text ?? "the text as it was typed"}`
              : `= ${words(answer.value)}${unit && ` ${unit}`}`}
          </Text>
          {!writes && <Text fontSize="caption" color="quiet" whiteSpace="nowrap">{`base ${words(answer.base)}`}</Text>}
          <Box flex="1" />
          {!writes && <FormulaPlot plot={answer.plot} plain={answer.plain} />}
        </Flex>
      )}
      <Flex gap="1.5" mt="1" wrap="wrap">
        <ReadyForms
          label={label}
          ready={known?.ready ?? []}
          kind={writes ? "text" : facts.parts.length > 1 ? "pair" : "number"}
          property={label.toLowerCase().replaceAll(/[ -]/g, "_")}
          unit={unit}
          others={others}
          disabled={layer.locked ?? false}
          put={put}
          take={() => void draft.take()}
          drop={() => put(stored)}
          onOpen={(open) => {
            readying.current = open;
          }}
        />
        <PointAt layer={id} property={name} disabled={layer.locked ?? false} layers={layers} put={insert} />
        {stored && (
          <>
            {!writes && (
              <>
                <Pill height="24px" px="2" disabled={layer.locked} onClick={act("write_as_keys")}>
                  Write as keys
                </Pill>
                <Pill
                  height="24px"
                  px="2"
                  disabled={layer.locked}
                  title="The formula comes in after the first key and goes before the last, each over half a second"
                  onClick={act("land_on_keys")}
                >
                  Land on the keys
                </Pill>
              </>
            )}
            <Pill
              height="24px"
              px="2"
              title="Paste it by the menu of a property's name, also onto several layers"
              onClick={() => {
                useCopied.setState({ text: stored });
                void navigator.clipboard?.writeText(stored).catch(() => {});
                say("The formula was copied. Paste it by the menu of a property's name.");
              }}
            >
              Copy
            </Pill>
            <Pill height="24px" px="2" disabled={layer.locked} onClick={() => keep("")}>
              Take it off
            </Pill>
          </>
        )}
      </Flex>
    </Box>
  );

  function mend(text: string) {
    const field = draft.ref.current;
    if (field) {
      field.value = text;
      delete field.dataset.typing;
    }
    keep(text);
  }
}

/** A value in few letters: two numbers have the room of one. */
function words(numbers: number[]): string {
  const fine = numbers.length > 1 ? 10 : 100;
  return numbers.map((n) => String(Math.round(n * fine) / fine)).join(", ");
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
