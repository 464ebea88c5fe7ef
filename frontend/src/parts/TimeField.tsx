import { useEffect, useRef } from "react";
import { sayProblem } from "../scene/choices";
import { useScene } from "../scene/document";
import { readTime, TIME_FORMS, timecode } from "../scene/times";
import { TextInput } from "./TextInput";

interface Props {
  label: string;
  frame: number;
  /** Where `+12` and `-12` step from; without it only times are taken. */
  from?: number;
  keep: (frame: number) => void;
  /** How the number is shown; by default as seconds:frames. */
  show?: (frame: number) => string;
  least?: number;
  width?: string;
}

/** A time or a length, in seconds:frames, frames or seconds; Enter takes, Esc gives back. */
export function TimeField({ label, frame, from, keep, show, least = 0, width = "64px" }: Props) {
  const { scene } = useScene();
  const input = useRef<HTMLInputElement>(null);
  const shown = show ? show(frame) : timecode(frame, scene);
  useEffect(() => {
    if (document.activeElement !== input.current) input.current!.value = shown;
  }, [shown]);
  const take = () => {
    const text = input.current!.value;
    if (text === shown) return;
    const value = readTime(text, scene, from);
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
      defaultValue={shown}
      width={width}
      height="21px"
      px="1"
      fontSize="12px"
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") take();
        if (event.key === "Escape") input.current!.value = shown;
        if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
      }}
      onKeyUp={(event) => event.stopPropagation()}
      onBlur={take}
    />
  );
}
