import { Popover, Portal } from "@chakra-ui/react";
import type { Ease, KeyRef } from "../api/client";
import { EasingEditor } from "./EasingEditor";

interface Props {
  keys: KeyRef[];
  ease: Ease;
  children: React.ReactElement;
}

/** The easing editor over what opens it. */
export function EasePopover({ keys, ease, children }: Props) {
  return (
    <Popover.Root lazyMount unmountOnExit positioning={{ placement: "top" }}>
      <Popover.Trigger asChild>{children}</Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="paper" color="ink" width="264px" borderRadius="14px">
            <Popover.Body p="3.5">
              <EasingEditor keys={keys} ease={ease} />
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
