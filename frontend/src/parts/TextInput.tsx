import type { ComponentProps } from "react";
import { type Taking, useDraft } from "./draft";
import { chakra } from "./styled";

/** A one-line field. */
export const TextInput = chakra("input", {
  base: {
    height: "control",
    px: "2",
    bg: "well",
    borderWidth: "1px",
    borderColor: "field",
    borderRadius: "control",
    _focusVisible: { outline: "1px solid", outlineColor: "act", borderColor: "act" },
    _invalid: { outline: "1px solid", outlineColor: "anchorInk", borderColor: "anchorInk" },
  },
});

interface Props extends Omit<ComponentProps<typeof TextInput>, "onKeyDown" | "onBlur" | "onInput" | "onFocus"> {
  label: string;
  text: string;
  take: Taking;
}

/** A line of text: Enter or leaving the field takes it, Esc gives it back. */
export function DraftInput({ label, text, take, ...rest }: Props) {
  const { props } = useDraft<HTMLInputElement>({ shown: () => text, take });
  return (
    <TextInput aria-label={label} defaultValue={text} autoComplete="off" spellCheck={false} {...rest} {...props} />
  );
}
