import type { Ease, KeyRef } from "../api/client";
import { Pop } from "../parts/Pop";
import { EasingEditor } from "./EasingEditor";

interface Props {
  keys: KeyRef[];
  ease: Ease;
  children: React.ReactElement;
}

/** The easing editor over what opens it. */
export function EasePopover({ keys, ease, children }: Props) {
  return (
    <Pop width="264px" trigger={children}>
      {() => <EasingEditor keys={keys} ease={ease} />}
    </Pop>
  );
}
