import {
  acceptCompletion,
  autocompletion,
  closeBrackets,
  closeBracketsKeymap,
  closeCompletion,
  completionStatus,
  currentCompletions,
  moveCompletionSelection,
} from "@codemirror/autocomplete";
import { history, historyKeymap, insertNewline, standardKeymap } from "@codemirror/commands";
import { bracketMatching } from "@codemirror/language";
import { Annotation, Compartment, EditorState, Prec, StateEffect, StateField } from "@codemirror/state";
import { Decoration, type DecorationSet, EditorView, keymap, placeholder, tooltips } from "@codemirror/view";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useRef } from "react";
import type { Draft, Field } from "../parts/draft";
import { chakra } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { language, looks, numberAt, type Stretch } from "./language";
import { completing, layersIn, type Place, telling } from "./names";

const nonce = document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content ?? "";
/** What the page puts into the field, which nobody typed. */
const shownOnly = Annotation.define<boolean>();
const wrongPlace = StateEffect.define<Stretch | null>();

const wrongMark = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update: (marks, change) => {
    let next = marks.map(change.changes);
    for (const effect of change.effects)
      if (effect.is(wrongPlace))
        next = effect.value
          ? Decoration.set([Decoration.mark({ class: "cm-wrong" }).range(effect.value.from, effect.value.to)])
          : Decoration.none;
    return next;
  },
  provide: (field) => EditorView.decorations.from(field),
});

/** Enter takes the formula, which is the draft's to do. */
const PLAIN_KEYS = standardKeymap.filter(({ key }) => key !== "Enter");

interface Props {
  layer: string;
  name: string;
  unit: string;
  /** What of the scene the values at the playhead belong to. */
  version: string;
  label: string;
  disabled: boolean;
  draft: Draft<Field>;
  /** Where the text is wrong, as lines and columns from 1. */
  wrong: { line: number; column: number; end: number } | null;
  describedBy?: string;
  /** A number under the pointer or at the caret. */
  onNumber: (number: Stretch) => void;
  view: React.RefObject<EditorView | null>;
}

/** The text of a formula: coloured, with names offered as they are typed, and what is wrong underlined. */
export function FormulaEditor(props: Props) {
  const { layer, name, unit, version, label, disabled, draft, wrong, describedBy, onNumber, view } = props;
  const session = useSession();
  const queries = useQueryClient();
  const { scene } = useScene();
  const home = useRef<HTMLDivElement>(null);
  const place = useRef<Place>(null!);
  place.current = { session, layer, property: name, unit, version, queries, layers: () => layersIn(scene) };
  const latest = useRef({ draft, onNumber });
  latest.current = { draft, onNumber };
  const locked = useRef(new Compartment());
  const about = useRef(new Compartment());

  useLayoutEffect(() => {
    const here = () => place.current;
    const editor = new EditorView({
      parent: home.current!,
      state: EditorState.create({
        extensions: [
          EditorView.cspNonce.of(nonce),
          EditorState.phrases.of({ Completions: "Names that fit" }),
          Prec.highest(
            keymap.of([
              { key: "Tab", run: acceptFirst },
              { key: "ArrowDown", run: moveCompletionSelection(true) },
              { key: "ArrowUp", run: moveCompletionSelection(false) },
              { key: "Escape", run: closeShown },
              { key: "Shift-Enter", run: insertNewline },
              { key: "Alt-ArrowUp", run: (one) => step(one, 1) },
              { key: "Alt-ArrowDown", run: (one) => step(one, -1) },
            ]),
          ),
          history(),
          keymap.of([...closeBracketsKeymap, ...historyKeymap, ...PLAIN_KEYS]),
          closeBrackets(),
          bracketMatching(),
          language,
          looks,
          wrongMark,
          autocompletion({
            override: [completing(here)],
            defaultKeymap: false,
            icons: false,
            interactionDelay: 0,
            activateOnTypingDelay: 0,
            maxRenderedOptions: 40,
            // What is wrong, and what it is worth, stand below.
            aboveCursor: true,
            filterStrict: true,
          }),
          telling(here),
          // The panel is narrower than what is told of a name.
          tooltips({ parent: document.body, position: "fixed" }),
          placeholder("base + t * 30"),
          EditorView.lineWrapping,
          locked.current.of([]),
          about.current.of([]),
          EditorView.domEventHandlers({
            mousemove: (event, one) => {
              const at = one.posAtCoords({ x: event.clientX, y: event.clientY });
              const number = at === null ? null : numberAt(one.state, at);
              if (number && !event.buttons) latest.current.onNumber(number);
            },
          }),
          EditorView.updateListener.of((change) => {
            const typed = change.transactions.some((one) => one.docChanged && !one.annotation(shownOnly));
            if (typed) latest.current.draft.props.onInput();
            if (change.selectionSet || typed) {
              const number = numberAt(change.state, change.state.selection.main.head);
              if (number && change.view.hasFocus) latest.current.onNumber(number);
            }
          }),
        ],
      }),
    });
    const field = editor.contentDOM as unknown as Field;
    Object.defineProperty(field, "value", {
      get: () => editor.state.doc.toString(),
      set: (text: string) =>
        editor.dispatch({
          changes: { from: 0, to: editor.state.doc.length, insert: text },
          annotations: shownOnly.of(true),
        }),
    });
    Object.defineProperty(field, "select", {
      value: () => editor.dispatch({ selection: { anchor: editor.state.doc.length } }),
    });
    latest.current.draft.ref.current = field;
    latest.current.draft.paint();
    view.current = editor;
    return () => {
      view.current = null;
      editor.destroy();
    };
  }, [view]);

  useEffect(() => {
    const attributes: Record<string, string> = {
      "aria-label": label,
      autocomplete: "off",
      "data-wrong": wrong ? "yes" : "",
    };
    if (describedBy) attributes["aria-describedby"] = describedBy;
    view.current?.dispatch({
      effects: [
        about.current.reconfigure(EditorView.contentAttributes.of(attributes)),
        locked.current.reconfigure([EditorView.editable.of(!disabled), EditorState.readOnly.of(disabled)]),
      ],
    });
  }, [view, label, wrong, describedBy, disabled]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    editor.dom.dataset.wrong = wrong ? "yes" : "";
    editor.dispatch({ effects: wrongPlace.of(wrong && stretchOf(editor.state, wrong)) });
  }, [view, wrong]);

  return (
    <chakra.div
      ref={home}
      onFocus={draft.props.onFocus}
      onKeyDown={(event) => {
        // Names that are offered take their keys first; Enter takes the formula all the same.
        if (event.defaultPrevented) event.stopPropagation();
        else if (event.key === "Enter" && event.shiftKey) return;
        else {
          if (event.key === "Enter" && view.current && completionStatus(view.current.state))
            closeCompletion(view.current);
          draft.props.onKeyDown(event as unknown as React.KeyboardEvent<Field>);
        }
      }}
    />
  );
}

/** A place in the text from lines and columns; at least one letter wide, null where it is beyond the text. */
function stretchOf(state: EditorState, { line, column, end }: { line: number; column: number; end: number }) {
  if (line > state.doc.lines || !state.doc.length) return null;
  const here = state.doc.line(line);
  const from = Math.min(here.from + column - 1, Math.max(here.to - 1, here.from));
  const to = Math.min(Math.max(here.from + end - 1, from + 1), here.to);
  return to > from ? { from, to } : null;
}

/** Close the names that are offered; where none are seen, Esc is the draft's. */
function closeShown(editor: EditorView): boolean {
  const seen = currentCompletions(editor.state).length > 0;
  closeCompletion(editor);
  return seen;
}

/** Take the name that is offered, also where Tab comes before it is shown. */
function acceptFirst(editor: EditorView): boolean {
  if (acceptCompletion(editor)) return true;
  if (completionStatus(editor.state) !== "pending") return false;
  acceptOnceShown(editor, editor.state);
  return true;
}

/** Names are looked up in up to 50 ms, and again when their values come; what is typed meanwhile means something else. */
function acceptOnceShown(editor: EditorView, { doc, selection }: EditorState) {
  window.setTimeout(() => {
    const { state } = editor;
    if (!editor.dom.isConnected || state.doc !== doc || !state.selection.eq(selection)) return;
    if (!acceptCompletion(editor) && completionStatus(state) === "pending") acceptOnceShown(editor, state);
  }, 10);
}

/** The number at the caret one of its own steps up or down. */
function step(editor: EditorView, way: 1 | -1): boolean {
  const number = numberAt(editor.state, editor.state.selection.main.head);
  if (!number) return false;
  const text = editor.state.sliceDoc(number.from, number.to);
  const places = text.split(".")[1]?.length ?? 0;
  const next = (Number(text) + way * 10 ** -places).toFixed(places);
  editor.dispatch({
    changes: { ...number, insert: next },
    selection: { anchor: number.from, head: number.from + next.length },
    userEvent: "input.step",
  });
  return true;
}
