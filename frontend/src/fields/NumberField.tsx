import { useCallback, useEffect, useRef } from "react";
import { applied, calculated, type Typed, typed } from "../parts/arithmetic";
import { type Draft, useDraft } from "../parts/draft";
import { follow } from "../parts/press";
import { chakra } from "../parts/styled";
import { useSession } from "../session/session";
import { sayProblem } from "../state/page";

interface Props {
  label: string;
  unit: string;
  /** The number now, read from the frame store whenever it changes. */
  read: () => number | null;
  /** Keep a value; `run` names a run of steps that is one step to undo. What it returns is waited for. */
  keep: (value: number, run?: string) => unknown;
  attempt?: (value: number) => void;
  /** For several layers at once: takes what was typed or scrubbed as a step, where the numbers may differ. */
  many?: (typed: Typed, keep: boolean, run?: string) => void;
  step?: number;
  width?: string;
  disabled?: boolean;
}

/** As many digits as there is room for; all that count while the field is being worked on. */
const digits = (value: number, whole: boolean) => {
  const size = Math.abs(value);
  const places = whole || size < 10 ? 3 : size < 100 ? 2 : 1;
  return String(Number(value.toFixed(places)) + 0);
};
const written = (value: number | null, whole = true) => (value === null ? "" : digits(value, whole));
const tidy = (value: number) => Math.round(value * 1000) / 1000;
const factor = (event: { shiftKey: boolean; altKey: boolean }) => (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);

/** A number: drag to scrub, type a calculation, step with the arrows; Enter takes, Esc gives back. It paints by itself. */
export function NumberField({ label, unit, read, keep, attempt, many, step = 1, width = "62px", disabled }: Props) {
  const session = useSession();
  const latest = useRef(read);
  latest.current = read;
  /** A value that was sent and is not answered yet: the next step starts from it. */
  const sent = useRef<number | null>(null);
  const now = () => sent.current ?? latest.current();

  const send = (value: number, run?: string) => {
    sent.current = value;
    draft.paint();
    void Promise.resolve(keep(value, run)).finally(() => {
      if (sent.current === value) sent.current = null;
      draft.paint();
    });
  };

  const take = (text: string) => {
    const given = typed(text);
    const value = now();
    if (given === null || !Number.isFinite(applied(given, value ?? 0))) {
      const back = value === null ? "the numbers" : written(value);
      sayProblem(
        new Error(
          `${label} takes a number or a calculation such as 1920/2, +10 or *1.5, and “${text}” is neither. Esc gives ${back} back.`,
        ),
      );
      return false;
    }
    if (many) {
      if (value === null || given.way !== "set" || written(given.value) !== written(value)) many(given, true);
      return true;
    }
    const next = tidy(applied(given, value ?? 0));
    if (written(next) !== written(value)) send(next);
    return true;
  };

  const draft: Draft<HTMLInputElement> = useDraft<HTMLInputElement>({
    shown: () => written(now(), document.activeElement === draft.ref.current),
    take,
  });
  const { paint } = draft;
  useEffect(() => session.frames.subscribeCalmly(paint), [session, paint]);

  const onKeyDown = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (event.key !== "ArrowUp" && event.key !== "ArrowDown") {
      draft.props.onKeyDown(event);
      return;
    }
    event.preventDefault();
    const field = event.currentTarget;
    const by = (event.key === "ArrowUp" ? 1 : -1) * step * factor(event);
    const from = (draft.typing() ? calculated(field.value) : null) ?? now();
    delete field.dataset.typing;
    if (many) many({ way: "add", value: by }, true, label);
    else if (from !== null) send(tidy(from + by), label);
  };

  const onPointerDown = useCallback(
    (event: React.PointerEvent<HTMLInputElement>) => {
      const field = event.currentTarget;
      const from = latest.current() ?? (many ? 0 : null);
      if (disabled || from === null || event.button !== 0 || document.activeElement === field) return;
      event.preventDefault();
      field.setPointerCapture(event.pointerId);
      const begin = event.clientX;
      let value = from;
      let moving = false;
      const hand = (whole: boolean) => {
        if (many) many({ way: "add", value: tidy(value - from) }, whole);
        else if (whole) keep(value);
        else attempt?.(value);
      };
      follow({
        move: (moved) => {
          moving ||= Math.abs(moved.clientX - begin) >= 3;
          if (!moving) return;
          value = tidy(from + Math.round(moved.clientX - begin) * step * factor(moved));
          if (latest.current() !== null) field.value = written(value);
          hand(false);
        },
        end: () => {
          if (!moving) {
            field.focus();
            field.select();
          } else if (value !== from) hand(true);
          else session.cancel();
        },
        cancel: () => {
          session.cancel();
          paint();
        },
      });
    },
    [session, paint, keep, attempt, many, step, disabled],
  );

  return (
    <chakra.label
      display="inline-flex"
      alignItems="center"
      width={width}
      flexShrink={0}
      height="control"
      bg="well"
      borderWidth="1px"
      borderColor="field"
      borderRadius="control"
      px="1.5"
      _focusWithin={{ borderColor: "act", outline: "1px solid", outlineColor: "act" }}
      css={{
        "&:has(input[aria-invalid])": { borderColor: "{colors.anchorInk}", outlineColor: "{colors.anchorInk}" },
        // Beside “several” there is no room for a unit.
        "& input:placeholder-shown + span": { display: "none" },
      }}
      opacity={disabled ? 0.5 : 1}
      cursor="ew-resize"
    >
      <chakra.input
        {...draft.props}
        aria-label={label}
        placeholder={many ? "several" : undefined}
        disabled={disabled}
        inputMode="decimal"
        autoComplete="off"
        spellCheck={false}
        width="0"
        flex="1"
        minWidth="0"
        bg="transparent"
        outline="none"
        fontSize="row"
        fontWeight={500}
        cursor="inherit"
        _focus={{ cursor: "text" }}
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
      />
      <chakra.span color="quiet" fontSize="caption" aria-hidden>
        {unit}
      </chakra.span>
    </chakra.label>
  );
}
