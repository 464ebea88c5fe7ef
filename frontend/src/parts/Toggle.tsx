import { Pill } from "./Pill";

interface Props {
  label: string;
  /** What it does, in words that begin with its label. */
  title?: string;
  on: boolean;
  disabled?: boolean;
  press: () => void;
}

/** A pill that is on or off. */
export function Toggle({ label, title, on, disabled, press }: Props) {
  return (
    <Pill
      height="control"
      px="2.5"
      label={title}
      look={on ? "on" : "plain"}
      aria-pressed={on}
      disabled={disabled}
      onClick={press}
    >
      {label}
    </Pill>
  );
}
