import type { Ease, KeyRef } from "../api/client";
import { Popover } from "../parts/Popover";
import { EasingEditor } from "./EasingEditor";

interface Props {
  keys: KeyRef[];
  ease: Ease;
  placement?: "top" | "bottom-end";
  children: React.ReactElement;
}

/** The easing editor over what opens it. */
export function EasePopover({ keys, ease, placement, children }: Props) {
  return (
    <Popover label="Easing" width="300px" placement={placement} trigger={children}>
      {() => <EasingEditor keys={keys} ease={ease} />}
    </Popover>
  );
}
