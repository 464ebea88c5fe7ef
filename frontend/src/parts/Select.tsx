import { ChevronDown } from "lucide-react";
import { toStage } from "./focus";
import { Box, chakra } from "./styled";

/** What a field that is chosen from looks like. */
export const CHOSEN_FROM = {
  height: "control",
  bg: "well",
  borderWidth: "1px",
  borderColor: "field",
  borderRadius: "control",
  pl: "1.5",
  _disabled: { opacity: 0.5 },
  _focusVisible: { outline: "2px solid", outlineColor: "act" },
} as const;

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
    <Box position="relative" flex={width ? "none" : "1"} width={width} minWidth="0">
      <chakra.select
        aria-label={label}
        disabled={disabled}
        value={value}
        onChange={(event) => {
          onChange(event.target.value);
          if (!stays) toStage(event.target);
        }}
        display="block"
        width="100%"
        appearance="none"
        truncate
        pr="18px"
        {...CHOSEN_FROM}
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
      <Box position="absolute" right="4px" top="6px" color="quiet" pointerEvents="none">
        <ChevronDown size={12} aria-hidden />
      </Box>
    </Box>
  );
}
