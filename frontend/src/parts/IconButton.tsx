import { chakra } from "@chakra-ui/react";

interface Props {
  label: string;
  onClick: () => void;
  children: React.ReactNode;
  color?: string;
  disabled?: boolean;
  pressed?: boolean;
}

/** A bare small button that shows only an icon. */
export function IconButton({ label, onClick, children, color = "quiet", disabled, pressed }: Props) {
  return (
    <chakra.button
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      title={label}
      disabled={disabled}
      color={color}
      cursor="pointer"
      flex="none"
      _disabled={{ opacity: 0.25, cursor: "default" }}
      _hover={{ color: "act" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
      onClick={(event) => {
        event.stopPropagation();
        onClick();
      }}
    >
      {children}
    </chakra.button>
  );
}
