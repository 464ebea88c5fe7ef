import { type ComponentProps, forwardRef } from "react";
import { pill } from "../theme/theme";
import { chakra } from "./styled";

const Button = chakra("button", pill);

/** The interface's button: a pill. `label` names one that shows only an icon. */
export const Pill = forwardRef<HTMLButtonElement, ComponentProps<typeof Button> & { label?: string }>(
  ({ label, title, ...rest }, ref) => (
    <Button ref={ref} type="button" data-pill="" aria-label={label} title={title ?? label} {...rest} />
  ),
);
