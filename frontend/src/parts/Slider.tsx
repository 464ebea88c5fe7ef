import { roleColour } from "../theme/theme";

interface Props {
  label: string;
  value: number;
  set: (value: number) => void;
  least: number;
  most: number;
  step?: number;
  /** What is said of the value. */
  said?: string;
  width?: number;
}

/** A number between two ends, dragged or stepped with the arrows. */
export function Slider({ label, value, set, least, most, step = 1, said, width = 110 }: Props) {
  return (
    <input
      type="range"
      aria-label={label}
      aria-valuetext={said}
      min={least}
      max={most}
      step={step}
      value={Math.min(Math.max(value, least), most)}
      onChange={(event) => set(Number(event.currentTarget.value))}
      style={{ width, accentColor: roleColour("act") }}
    />
  );
}
