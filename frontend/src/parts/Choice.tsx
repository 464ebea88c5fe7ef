import { SegmentGroup } from "@chakra-ui/react";

interface Props<T extends string> {
  label: string;
  value: T;
  options: [T, string][];
  onChange: (value: T) => void;
  /** The role of the chosen one's colour, which has a wash: `act` or `anchor`. */
  tone?: "act" | "anchor";
}

/** The radio button lies invisible over its label and takes the pointer. */
const OVER: React.CSSProperties = {
  position: "absolute",
  inset: 0,
  width: "100%",
  height: "100%",
  margin: 0,
  opacity: 0,
  cursor: "pointer",
  clip: "auto",
};

/** One of a few, side by side; the arrows walk. */
export function Choice<T extends string>({ label, value, options, onChange, tone = "act" }: Props<T>) {
  return (
    <SegmentGroup.Root
      aria-label={label}
      value={value}
      onValueChange={(chosen) => chosen.value !== null && onChange(chosen.value as T)}
    >
      {options.map(([key, text]) => (
        <SegmentGroup.Item
          key={key}
          value={key}
          _checked={{ bg: `${tone}Wash`, color: tone === "anchor" ? "anchorInk" : tone }}
        >
          <SegmentGroup.ItemText>{text}</SegmentGroup.ItemText>
          <SegmentGroup.ItemHiddenInput style={OVER} />
        </SegmentGroup.Item>
      ))}
    </SegmentGroup.Root>
  );
}
