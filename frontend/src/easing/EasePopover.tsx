import type { Ease, KeyRef } from "../api/client";
import { Popover } from "../parts/Popover";
import { EasingEditor } from "./EasingEditor";

interface Props {
  keys: KeyRef[];
  ease: Ease;
  children: React.ReactElement;
}

/** The easing editor over what opens it. */
export function EasePopover({ keys, ease, children }: Props) {
  return (
    <Popover width="264px" trigger={children}>
      {() => <EasingEditor keys={keys} ease={ease} />}
    </Popover>
  );
}
