import { python } from "@codemirror/lang-python";
import { HighlightStyle, syntaxHighlighting, syntaxTree } from "@codemirror/language";
import type { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { tags } from "@lezer/highlight";

const colour = (role: string) => `var(--chakra-colors-${role})`;

const marks = HighlightStyle.define([
  { tag: tags.number, color: colour("position"), fontWeight: "600" },
  { tag: tags.string, color: colour("opacity") },
  { tag: [tags.keyword, tags.operatorKeyword, tags.controlKeyword], color: colour("scale") },
  { tag: tags.function(tags.variableName), color: colour("rotation") },
  { tag: tags.comment, color: colour("quiet") },
]);

/** How formulas are read and coloured: their syntax is Python's. */
export const language = [python().language, syntaxHighlighting(marks)];

/** The looks of the field. */
export const looks = EditorView.theme({
  "&": {
    backgroundColor: colour("well"),
    border: `1px solid ${colour("edge")}`,
    borderRadius: "7px",
    color: "inherit",
    fontSize: "12.5px",
    maxHeight: "180px",
  },
  "&.cm-focused": { outline: `1px solid ${colour("act")}`, borderColor: colour("act") },
  '&[data-wrong="yes"]': { borderColor: colour("finding-ink") },
  ".cm-scroller": {
    fontFamily: "var(--chakra-fonts-mono, monospace), var(--scripts, monospace)",
    lineHeight: "1.45",
    overflow: "auto",
  },
  ".cm-content": { padding: "4px 0", caretColor: colour("act") },
  ".cm-line": { padding: "0 8px" },
  ".cm-placeholder": { color: colour("quiet") },
  ".cm-wrong": { textDecoration: `underline wavy ${colour("finding-ink")}`, textUnderlineOffset: "3px" },
  ".cm-tooltip": {
    backgroundColor: colour("paper"),
    border: `1px solid ${colour("edge")}`,
    borderRadius: "8px",
    boxShadow: "0 6px 18px rgb(0 0 0 / 0.16)",
    overflow: "hidden",
  },
  ".cm-tooltip-autocomplete > ul": { fontFamily: "inherit", maxHeight: "13em", width: "430px", maxWidth: "90vw" },
  ".cm-tooltip-autocomplete > ul > li": {
    padding: "2px 8px",
    lineHeight: "1.5",
    whiteSpace: "nowrap",
    textOverflow: "ellipsis",
    overflow: "hidden",
  },
  ".cm-tooltip-autocomplete > ul > li[aria-selected]": { background: colour("act-wash"), color: "inherit" },
  ".cm-completionLabel": { fontFamily: "var(--chakra-fonts-mono, monospace)", fontSize: "12.5px" },
  ".cm-completionDetail": {
    fontFamily: "var(--chakra-fonts-body, sans-serif)",
    fontStyle: "normal",
    color: colour("quiet"),
    fontSize: "11px",
    marginLeft: "10px",
  },
  ".cm-completionMatchedText": { textDecoration: "none", fontWeight: "700" },
  ".cm-formula-hint": { padding: "4px 9px", fontSize: "12.5px", maxWidth: "260px" },
  ".cm-formula-hint div + div": { color: colour("quiet"), fontSize: "11px" },
});

/** A stretch of the text. */
export interface Stretch {
  from: number;
  to: number;
}

/** The number at a place, where one stands there. */
export function numberAt(state: EditorState, place: number): Stretch | null {
  for (const side of [1, -1] as const) {
    const node = syntaxTree(state).resolveInner(place, side);
    if (node.name === "Number") return { from: node.from, to: node.to };
  }
  return null;
}

/** What has a value at a place: a name, a call, a part of either. */
export function thingAt(state: EditorState, place: number): Stretch | null {
  let node = syntaxTree(state).resolveInner(place, 1);
  if (node.name === "String" && node.parent?.name === "MemberExpression") node = node.parent;
  else if (
    node.name === "ArgList" &&
    node.parent &&
    node.to - node.from > 0 &&
    state.sliceDoc(place, place + 1) !== "("
  )
    node = node.parent;
  else if (!["VariableName", "PropertyName"].includes(node.name)) return null;
  while (
    node.parent &&
    ((node.parent.name === "MemberExpression" && (node.name === "PropertyName" || isThing(state, node))) ||
      (node.parent.name === "CallExpression" && node.parent.from === node.from))
  )
    node = node.parent;
  return { from: node.from, to: node.to };
}

/** Whether what stands there has no value of its own, but parts that have. */
function isThing(state: EditorState, { from, to }: Stretch): boolean {
  const text = state.sliceDoc(from, to);
  return ["scene", "box", "beat"].includes(text) || /^scene\["[^"\n]*"\]$/.test(text);
}

/** The lines above a place: the names that they give hold in it. */
export const linesAbove = (state: EditorState, place: number) => state.sliceDoc(0, state.doc.lineAt(place).from);
