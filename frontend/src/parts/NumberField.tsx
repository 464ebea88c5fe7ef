import { chakra } from "@chakra-ui/react";
import { useCallback, useEffect, useRef } from "react";
import { sayProblem } from "../scene/choices";
import { useSession } from "../scene/session";
import { follow } from "./press";
import { reckoned, sum, type Typed, typed } from "./sums";

interface Props {
  label: string;
  unit: string;
  /** The number now, read from the frame store whenever it changes. */
  read: () => number | null;
  keep: (value: number) => void;
  attempt?: (value: number) => void;
  /** For several layers at once: takes what was typed or scrubbed as a step, where the numbers may differ. */
  many?: (typed: Typed, keep: boolean) => void;
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
const shown = (value: number | null, whole = true) => (value === null ? "" : digits(value, whole));

/** A number: drag to scrub, type a sum, step with the arrows; Enter takes, Esc gives back. It paints by itself. */
export function NumberField({ label, unit, read, keep, attempt, many, step = 1, width = "62px", disabled }: Props) {
  const session = useSession();
  const input = useRef<HTMLInputElement>(null);
  const latest = useRef(read);
  latest.current = read;

  const paint = useCallback(() => {
    const field = input.current;
    if (!field || (document.activeElement === field && field.dataset.typing)) return;
    const text = shown(latest.current(), document.activeElement === field);
    if (field.value !== text) field.value = text;
  }, []);

  useEffect(() => {
    paint();
    return session.frames.subscribeCalmly(paint);
  });

  const start = (on: boolean) => {
    const field = input.current!;
    field.dataset.typing = on ? "yes" : "";
    if (!on) field.removeAttribute("aria-invalid");
  };

  const take = () => {
    const field = input.current!;
    if (!field.dataset.typing) return true;
    const given = typed(field.value);
    const now = latest.current();
    if (given === null || !Number.isFinite(reckoned(given, now ?? 0))) {
      field.setAttribute("aria-invalid", "true");
      const back = now === null ? "the numbers" : shown(now);
      sayProblem(
        new Error(
          `${label} takes a number or a sum such as 1920/2, +10 or *1.5, and “${field.value}” is neither. Esc gives ${back} back.`,
        ),
      );
      return false;
    }
    start(false);
    if (many) {
      if (now === null || given.way !== "set" || shown(given.value) !== shown(now)) many(given, true);
      return true;
    }
    const value = tidy(reckoned(given, now ?? 0));
    if (shown(value) !== shown(now)) keep(value);
    return true;
  };

  const tidy = (value: number) => Math.round(value * 1000) / 1000;
  const factor = (event: { shiftKey: boolean; altKey: boolean }) => (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);

  const onKeyDown = (event: React.KeyboardEvent<HTMLInputElement>) => {
    event.stopPropagation();
    if (event.key === "Enter") {
      if (take()) event.currentTarget.select();
    } else if (event.key === "Escape") {
      start(false);
      paint();
      event.currentTarget.blur();
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const by = (event.key === "ArrowUp" ? 1 : -1) * step * factor(event);
      const now = (event.currentTarget.dataset.typing ? sum(event.currentTarget.value) : null) ?? latest.current();
      start(false);
      if (many) many({ way: "add", value: by }, true);
      else if (now !== null) keep(tidy(now + by));
    }
  };

  const onPointerDown = (event: React.PointerEvent<HTMLInputElement>) => {
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
        if (latest.current() !== null) field.value = shown(value);
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
  };

  return (
    <chakra.label
      display="inline-flex"
      alignItems="center"
      width={width}
      flexShrink={0}
      height="23px"
      bg="well"
      borderWidth="1px"
      borderColor="edge"
      borderRadius="7px"
      px="1.5"
      _focusWithin={{ borderColor: "act", outline: "1px solid", outlineColor: "act" }}
      css={{
        "&:has(input[aria-invalid])": { borderColor: "{colors.anchorInk}", outlineColor: "{colors.anchorInk}" },
        // Beside “mixed” there is no room for a long unit.
        "& input:placeholder-shown + span": { display: unit.length > 2 ? "none" : undefined },
      }}
      opacity={disabled ? 0.5 : 1}
      cursor="ew-resize"
    >
      <chakra.input
        ref={input}
        aria-label={label}
        placeholder={many ? "mixed" : undefined}
        disabled={disabled}
        inputMode="decimal"
        autoComplete="off"
        spellCheck={false}
        width="0"
        flex="1"
        minWidth="0"
        bg="transparent"
        outline="none"
        fontSize="12.5px"
        fontWeight={550}
        cursor="inherit"
        _focus={{ cursor: "text" }}
        onFocus={paint}
        onInput={() => start(true)}
        onKeyDown={onKeyDown}
        onKeyUp={(event) => event.stopPropagation()}
        onPointerDown={onPointerDown}
        onBlur={() => {
          if (!take()) start(false);
          paint();
        }}
      />
      <chakra.span color="quiet" fontSize="11px" aria-hidden>
        {unit}
      </chakra.span>
    </chakra.label>
  );
}
