import { toStage } from "./focus";
import { chakra } from "./styled";

interface Props {
  label: string;
  value: string;
  options: (string | [string, string])[];
  onChange: (value: string) => void;
  width?: string;
  disabled?: boolean;
  /** What is chosen opens something beside it: the keyboard does not go to the stage. */
  stays?: boolean;
}

/** A native choice from a list; an option may show another text than its value. */
export function Select({ label, value, options, onChange, width, disabled, stays }: Props) {
  return (
    <chakra.select
      aria-label={label}
      disabled={disabled}
      value={value}
      onChange={(event) => {
        onChange(event.target.value);
        if (!stays) toStage(event.target);
      }}
      flex={width ? "none" : "1"}
      width={width}
      minWidth="0"
      height="25px"
      bg="well"
      borderWidth="1px"
      borderColor="edge"
      borderRadius="7px"
      px="1"
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
    >
      {options.map((option) => {
        const [key, text] = typeof option === "string" ? [option, option] : option;
        return (
          <option key={key} value={key}>
            {text}
          </option>
        );
      })}
    </chakra.select>
  );
}
