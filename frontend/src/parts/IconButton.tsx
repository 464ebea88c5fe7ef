import { roleColour } from "../theme/theme";

interface Props {
  label: string;
  onClick: () => void;
  children: React.ReactNode;
  /** The role of its colour; by default it is quiet. */
  color?: string;
  disabled?: boolean;
  pressed?: boolean;
  /** It does nothing here; its room stays. */
  hidden?: boolean;
}

/** A bare small button that shows only an icon. */
export function IconButton({ label, onClick, children, color, disabled, pressed, hidden }: Props) {
  return (
    <button
      type="button"
      className="bare"
      aria-label={label}
      aria-pressed={pressed}
      title={label}
      disabled={disabled}
      style={{ color: color && roleColour(color), visibility: hidden ? "hidden" : undefined }}
      onClick={(event) => {
        event.stopPropagation();
        onClick();
      }}
    >
      {children}
    </button>
  );
}
