import { useEffect } from "react";
import { flushSync } from "react-dom";
import { TIME_FORMS, timecode } from "../geometry/times";
import { useDraft } from "../parts/draft";
import { TextInput } from "../parts/TextInput";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { sayProblem, settled } from "../state/page";

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
  const take = async (text: string) => {
    const before = now();
    const say = (fault: string) => {
      sayProblem(new Error(`${label}${fault} Nothing was changed; Esc gives the time back.`));
      return false;
    };
    let value: number;
    try {
      value = await session.readTime(text, before);
    } catch (error) {
      return say(`: ${(error as Error).message}`);
    }
    if (value < least) return say(` takes at least ${least}, and “${text}” is less.`);
    if (most !== undefined && value > most) return say(` takes at most ${most}, and “${text}” is more.`);
    settled();
    // What waits for the answer meets the page with it.
    if (value !== before) flushSync(() => keep(value));
    return true;
  };
  const shown = () => (show ? show(now()) : timecode(now(), scene));
  const draft = useDraft<HTMLInputElement>({ shown, take, brief: true });
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
      fontSize="row"
    />
  );
}
