import { useEffect } from "react";
import { useDraft } from "../parts/draft";
import { TextInput } from "../parts/TextInput";
import { useScene } from "../studio/document";
import { sayProblem } from "../studio/page";
import { useSession } from "../studio/session";
import { readTime, TIME_FORMS, timecode } from "../studio/times";

interface Props {
  label: string;
  /** The time; or where to read it from, whenever the frame store tells, without React. */
  frame: number | (() => number);
  keep: (frame: number) => void;
  /** How the number is shown; by default as seconds:frames. */
  show?: (frame: number) => string;
  least?: number;
  most?: number;
  width?: string;
}

/** A time or a length, in seconds:frames, frames or seconds; `+12` and `-12` step from the one that is shown. */
export function TimeField({ label, frame, keep, show, least = 0, most, width = "64px" }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const now = () => (typeof frame === "number" ? frame : frame());
  const take = (text: string) => {
    const value = readTime(text, scene, now());
    const fault =
      value === null
        ? `a time such as ${TIME_FORMS}, and “${text}” is none`
        : value < least
          ? `at least ${least}, and “${text}” is less`
          : most !== undefined && value > most
            ? `at most ${most}, and “${text}” is more`
            : null;
    if (value === null || fault) {
      sayProblem(new Error(`${label} takes ${fault}. Nothing was changed; Esc gives the time back.`));
      return false;
    }
    if (value !== now()) keep(value);
    return true;
  };
  const draft = useDraft<HTMLInputElement>({ shown: () => (show ? show(now()) : timecode(now(), scene)), take });
  const { paint } = draft;
  const reads = typeof frame !== "number";
  useEffect(() => (reads ? session.frames.subscribe(paint) : undefined), [session, reads, paint]);
  return (
    <TextInput
      {...draft.props}
      aria-label={label}
      title={`${label}: ${TIME_FORMS}`}
      data-numeric="yes"
      autoComplete="off"
      width={width}
      height="21px"
      px="1"
      fontSize="12px"
    />
  );
}
