import { chakra, Flex } from "@chakra-ui/react";

interface Props<T extends string> {
  label: string;
  value: T;
  options: [T, string][];
  onChange: (value: T) => void;
  /** The role of the chosen side. */
  tone?: string;
}

/** One of a few, side by side; the arrows walk. */
export function Choice<T extends string>({ label, value, options, onChange, tone = "act" }: Props<T>) {
  const walk = (event: React.KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const place = options.findIndex(([key]) => key === value);
    const next = (place + step + options.length) % options.length;
    onChange(options[next][0]);
    (event.currentTarget.children[next] as HTMLElement).focus();
  };
  return (
    <Flex
      role="radiogroup"
      aria-label={label}
      borderWidth="1px"
      borderColor="edge"
      borderRadius="9px"
      overflow="hidden"
      flex="1"
      onKeyDown={walk}
    >
      {options.map(([key, text]) => (
        <chakra.button
          key={key}
          type="button"
          role="radio"
          aria-checked={value === key}
          tabIndex={value === key ? 0 : -1}
          flex="1"
          height="25px"
          fontSize="12px"
          fontWeight={600}
          whiteSpace="nowrap"
          px="1.5"
          cursor="pointer"
          bg={value === key ? tone : "well"}
          color={value === key ? "actInk" : "quiet"}
          onClick={() => onChange(key)}
          _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "-2px" }}
        >
          {text}
        </chakra.button>
      ))}
    </Flex>
  );
}
