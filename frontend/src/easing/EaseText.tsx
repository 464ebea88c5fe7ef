import type { ComponentProps } from "react";
import { type Ease, Problem } from "../api/client";
import { useDraft } from "../parts/draft";
import { TextInput } from "../parts/TextInput";
import { sayProblem } from "../state/page";
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
      const instead = error instanceof Problem ? error.instead : "";
      sayProblem(error, instead ? { button: `Write ${instead}`, run: () => void put(instead) } : undefined);
      return false;
    }
  };
  const draft = useDraft<HTMLInputElement>({ shown: () => text, take });
  const { props } = draft;
  /** Another easing in the place of what was typed. */
  const put = async (words: string) => {
    const field = draft.ref.current;
    if (field) delete field.dataset.typing;
    field?.removeAttribute("aria-invalid");
    if (await take(words)) draft.paint();
  };
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
