import { inOverlay, reachedByKeys } from "../parts/focus";
import { pressing } from "../parts/press";
import { page } from "../state/page";

const isField = (target: Element) =>
  target.matches("textarea, input:not([type]), input[type=text], [contenteditable=true]");

/** Fields of numbers and times, in which no letter begins anything. */
const isNumeric = (target: Element) => target.matches("[inputmode=decimal], [data-numeric]");

/** Keys that begin or edit what is typed into a number, or move within it. */
const EDITS = /^([\d.,+\-*/()%]|Arrow.*|Home|End|Backspace|Delete|Tab|Enter|Escape|Process)$/;

/** Whether a letter is typed into a number that has the keyboard: it is none of its digits, and no shortcut either. */
export const isLetterInNumber = ({ target, key, ctrlKey, metaKey, altKey }: KeyboardEvent) =>
  target instanceof HTMLElement &&
  isField(target) &&
  isNumeric(target) &&
  target.dataset.typing !== "yes" &&
  !ctrlKey &&
  !metaKey &&
  !altKey &&
  /^\p{L}$/u.test(key);

/** Whether undo and redo are for the scene: they are for the text while someone is typing in it. */
export const undoesText = ({ target }: KeyboardEvent) =>
  target instanceof HTMLElement && isField(target) && target.dataset.typing === "yes";

/**
 * Whether a key is meant for what has the focus, and not for the main view: an open dialog or menu, a text being typed, a
 * control that was reached by Tab. While a pointer holds something, no key of the main view works at all.
 */
export function takenElsewhere(event: KeyboardEvent): boolean {
  if (pressing() || page().dialog !== null) return true;
  const { target, key } = event;
  if (!(target instanceof Element)) return false;
  if (inOverlay(target)) return true;
  if (target instanceof HTMLElement && isField(target)) {
    if (target.dataset.typing === "yes") return true;
    if (!isNumeric(target)) return key !== "F2";
    const command = event.ctrlKey || event.metaKey;
    if (command) return ["a", "c", "v", "x"].includes(key.toLowerCase());
    return EDITS.test(key) || isLetterInNumber(event);
  }
  if (!reachedByKeys(target)) return false;
  if (target.matches("select")) return !event.ctrlKey && !event.metaKey && key !== "Escape";
  if (target.matches("button, a, input")) return key === " " || key === "Enter" || isArrowOf(target, key);
  return isArrowOf(target, key);
}

/** In a tree Home and End lead on as well. */
const isArrowOf = (target: Element, key: string) =>
  (key.startsWith("Arrow") &&
    target.closest("[role=radiogroup], [role=slider], [role=separator], [data-arrows]") !== null) ||
  (/^(Arrow.*|Home|End)$/.test(key) && target.closest("[role=tree]") !== null);
