import type { ComponentProps } from "react";
import type { Ease } from "../api/client";
import { useDraft } from "../parts/draft";
import { TextInput } from "../parts/TextInput";
import { sayProblem } from "../studio/page";
import { readEase } from "./easeNames";

interface Props extends Omit<ComponentProps<typeof TextInput>, "onKeyDown"> {
  label: string;
  text: string | undefined;
  /** Keeps the easing; whether it was acknowledged. */
  set: (ease: Ease) => Promise<boolean>;
}

/** An easing as text: Enter has the core read it, which refuses in words what is none; Esc gives it back. */
export function EaseText({ label, text = "", set, ...rest }: Props) {
  const take = async (given: string) => {
    try {
      return await set((await readEase(given)).ease as Ease);
    } catch (error) {
      sayProblem(error);
      return false;
    }
  };
  const { props } = useDraft<HTMLInputElement>({ shown: () => text, take });
  return (
    <TextInput
      aria-label={label}
      title="A name, cubic-bezier(…), steps(…), linear(…), overshoot(…), bounce(…), spring(…)"
      autoComplete="off"
      spellCheck={false}
      {...rest}
      {...props}
    />
  );
}
