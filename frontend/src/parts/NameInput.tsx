import type { ComponentProps } from "react";
import { TextInput } from "./TextInput";

interface Props {
  label: string;
  value: string;
  change: (typed: string) => void;
  take: () => void;
  leave: () => void;
  placeholder?: string;
  width?: string;
  onBlur?: ComponentProps<typeof TextInput>["onBlur"];
}

/** A field for a new name, which has the keyboard at once: Enter takes it, Esc gives up. */
export function NameInput({ label, value, change, take, leave, placeholder = "Name…", width, onBlur }: Props) {
  return (
    <TextInput
      aria-label={label}
      placeholder={placeholder}
      width={width}
      flex={width ? undefined : "1"}
      minWidth="0"
      autoFocus
      maxLength={200}
      data-typing="yes"
      data-leaves="yes"
      value={value}
      onChange={(event) => change(event.target.value)}
      onBlur={onBlur}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter" && !event.repeat) take();
        if (event.key === "Escape") leave();
      }}
    />
  );
}
