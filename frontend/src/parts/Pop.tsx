import { Popover, Portal } from "@chakra-ui/react";
import type { ComponentProps } from "react";
import { reachedByKeys, toStage } from "./focus";

interface Props {
  trigger: React.ReactElement;
  width: string;
  placement?: NonNullable<ComponentProps<typeof Popover.Root>["positioning"]>["placement"];
  testId?: string;
  /** What is shown; told how to close it. */
  children: (close: () => void) => React.ReactNode;
}

/** A small sheet over the main view, by what opens it. */
export function Pop({ trigger, width, placement = "top", testId, children }: Props) {
  return (
    <Popover.Root
      lazyMount
      unmountOnExit
      positioning={{ placement }}
      onExitComplete={() => {
        const opener = document.activeElement;
        if (opener?.matches("[aria-haspopup]") && !reachedByKeys(opener)) toStage(opener);
      }}
    >
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content
            bg="paper"
            color="ink"
            width={width}
            borderRadius="14px"
            fontSize="13px"
            lineHeight="1.4"
            p="3.5"
            data-testid={testId}
          >
            <Popover.Context>{(popover) => children(() => popover.setOpen(false))}</Popover.Context>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
