import { useEffect, useRef } from "react";
import { sayProblem } from "../scene/choices";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { readTime, TIME_FORMS, timecode } from "../scene/times";
import { TextInput } from "./TextInput";

interface Props {
  label: string;
  /** The time; or where to read it from, whenever the frame store tells, without React. */
  frame: number | (() => number);
  /** Where `+12` and `-12` step from; without it only times are taken. Of a time that is read, it is that time. */
  from?: number;
  keep: (frame: number) => void;
  /** How the number is shown; by default as seconds:frames. */
  show?: (frame: number) => string;
  least?: number;
  width?: string;
}

/** A time or a length, in seconds:frames, frames or seconds; Enter takes, Esc gives back. */
export function TimeField({ label, frame, from, keep, show, least = 0, width = "64px" }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const input = useRef<HTMLInputElement>(null);
  const now = () => (typeof frame === "number" ? frame : frame());
  const told = () => (show ? show(now()) : timecode(now(), scene));
  useEffect(() => {
    const paint = () => {
      const text = told();
      if (input.current!.value !== text && document.activeElement !== input.current) input.current!.value = text;
    };
    paint();
    return typeof frame === "number" ? undefined : session.frames.subscribe(paint);
  });
  const take = () => {
    const text = input.current!.value;
    const shown = told();
    if (text === shown) return;
    const value = readTime(text, scene, typeof frame === "number" ? from : now());
    if (value === null || value < least) {
      input.current!.value = shown;
      const why =
        value !== null
          ? `at least ${least}, and “${text}” is less`
          : `a time such as ${TIME_FORMS}, and “${text}” is none`;
      sayProblem(new Error(`${label} takes ${why}. Nothing was changed.`));
    } else keep(value);
  };
  return (
    <TextInput
      ref={input}
      aria-label={label}
      title={`${label}: ${TIME_FORMS}`}
      defaultValue={told()}
      width={width}
      height="21px"
      px="1"
      fontSize="12px"
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") take();
        if (event.key === "Escape") input.current!.value = told();
        if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
      }}
      onKeyUp={(event) => event.stopPropagation()}
      onBlur={() => {
        take();
        input.current!.value = told();
      }}
    />
  );
}
