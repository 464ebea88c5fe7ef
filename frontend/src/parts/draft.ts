import { useCallback, useEffect, useRef } from "react";
import { toStage } from "./focus";
import { inputWaitsFor } from "./heldInput";

/** What is typed into: an input, a text area, or an editor's element that was given a value. */
export type Field = HTMLElement & { value: string; select: () => void };

export type Taking = (text: string) => boolean | Promise<boolean>;

interface Options {
  /** What the field shows while nobody is typing. */
  shown: () => string;
  /** Take what was typed; false where it cannot be taken, after saying why. A promise is waited for, the draft stays. */
  take: Taking;
  /** What typing tries before it is taken. */
  tried?: (text: string) => void;
  /** Nothing was taken: what typing tried is given back. */
  dropped?: () => void;
  /** Enter writes a line break, and Ctrl or Cmd Enter takes. */
  lines?: boolean;
  /**
   * Enter gives the keyboard to the stage before the answer is here; keys and clicks wait for it. Where it is a no, the field gets the
   * keyboard back with the draft.
   */
  brief?: boolean;
}

/** Milliseconds: what was taken is shown by then, or shows the same as before. */
const LATE = 3000;

const isTyping = (field: Field | null) => field?.dataset.typing === "yes";

/** Show a text; where the keyboard is in the field its caret stays. */
function show(field: Field, text: string) {
  const typed = document.activeElement === field && "selectionStart" in field ? (field as HTMLTextAreaElement) : null;
  const at = typed && ([typed.selectionStart, typed.selectionEnd] as const);
  field.value = text;
  if (typed && at) typed.setSelectionRange(...at);
}

function mark(field: Field | null, on: boolean) {
  if (!field) return;
  if (on) field.dataset.typing = "yes";
  else delete field.dataset.typing;
  field.removeAttribute("aria-invalid");
}

/**
 * What every field that is typed into shares. A draft begins with typing, is taken once, by Enter or by leaving the field,
 * and given back by Esc; a field in which nothing was typed writes nothing. What arrives from the server meanwhile never
 * replaces a draft. After Enter and Esc the keyboard belongs to the stage again.
 */
export function useDraft<F extends Field>(options: Options) {
  const ref = useRef<F>(null);
  const latest = useRef(options);
  latest.current = options;
  /** A draft that was handed over and is not answered yet: it is not handed over twice. */
  const asked = useRef<string | null>(null);
  /** A draft that Enter handed over, the keyboard given to the stage meanwhile. */
  const entered = useRef<string | null>(null);
  /** What was shown as a draft was handed over, until something else is: whatever is typed meanwhile is a draft. */
  const before = useRef<string | null>(null);

  const paint = useCallback(() => {
    const field = ref.current;
    const text = latest.current.shown();
    if (before.current !== text) before.current = null;
    if (!field || isTyping(field)) return;
    if (field.value !== text) show(field, text);
  }, []);

  const discard = useCallback(() => {
    const had = isTyping(ref.current);
    mark(ref.current, false);
    paint();
    if (had) latest.current.dropped?.();
  }, [paint]);

  /** What became of a draft: taken, it ends; refused, it stays in the hand to be mended. */
  const settle = useCallback(
    (text: string, taken: boolean) => {
      const field = ref.current;
      if (!field || field.value !== text || !isTyping(field)) return;
      if (taken) {
        mark(ref.current, false);
        paint();
      } else {
        before.current = null;
        if (entered.current === text) field.focus();
        if (document.activeElement === field) field.setAttribute("aria-invalid", "true");
        else discard();
      }
    },
    [paint, discard],
  );

  /** Hand the draft over, once; whether it was taken, or waits for its answer. The field may keep the keyboard. */
  const submit = useCallback(
    (stays = false): boolean => {
      const field = ref.current!;
      const text = field.value;
      if (!isTyping(field) || asked.current === text) return true;
      const shown = latest.current.shown();
      before.current = shown;
      window.setTimeout(() => {
        if (before.current === shown) before.current = null;
      }, LATE);
      const taken = latest.current.take(text);
      if (typeof taken === "boolean") {
        settle(text, taken);
        return taken;
      }
      asked.current = text;
      const settled = taken
        .then((kept) => {
          asked.current = null;
          settle(text, kept);
          const idle = document.activeElement === ref.current && !isTyping(ref.current);
          if (kept && idle && !stays) toStage(ref.current);
          return kept;
        })
        .catch(() => {
          asked.current = null;
          return false;
        })
        .finally(() => {
          entered.current = null;
        });
      if (latest.current.brief) inputWaitsFor(settled);
      return true;
    },
    [settle],
  );

  useEffect(paint);

  const props = {
    ref,
    onInput: () => {
      const field = ref.current!;
      mark(field, before.current !== null || field.value !== latest.current.shown());
      if (isTyping(field)) latest.current.tried?.(field.value);
      else latest.current.dropped?.();
    },
    onFocus: paint,
    onKeyDown: (event: React.KeyboardEvent<F>) => {
      const field = ref.current!;
      const takes = event.key === "Enter" && (!latest.current.lines || event.ctrlKey || event.metaKey);
      if (takes && !event.nativeEvent.isComposing) {
        event.preventDefault();
        if (event.repeat || !submit()) return;
        if (asked.current !== null) {
          if (!latest.current.brief) return;
          entered.current = asked.current;
        }
        field.select();
        toStage(field);
      } else if (event.key === "Escape") {
        discard();
        toStage(field);
      }
    },
    onBlur: () => {
      if (!submit()) discard();
      else paint();
    },
  };
  return { ref, props, paint, take: submit, typing: () => isTyping(ref.current) };
}

export type Draft<F extends Field> = ReturnType<typeof useDraft<F>>;
