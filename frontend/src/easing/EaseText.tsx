import type { ComponentProps } from "react";
import type { Ease } from "../api/client";
import { TextInput } from "../parts/TextInput";
import { sayProblem } from "../scene/choices";
import { readEase } from "./facts";

interface Props extends Omit<ComponentProps<typeof TextInput>, "onKeyDown"> {
  label: string;
  text: string | undefined;
  set: (ease: Ease) => void;
}

/** An easing as text: Enter reads it in the core, which refuses in words what is none; Esc gives back. */
export function EaseText({ label, text = "", set, ...rest }: Props) {
  return (
    <TextInput
      key={text}
      aria-label={label}
      title="A name, cubic-bezier(…), steps(…), linear(…), overshoot(…), bounce(…), spring(…)"
      defaultValue={text}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") event.currentTarget.value = text;
        if (event.key !== "Enter") return;
        readEase(event.currentTarget.value)
          .then((read) => set(read.ease as Ease))
          .catch(sayProblem);
      }}
      {...rest}
    />
  );
}
