import { Popover as Chakra, Portal } from "@chakra-ui/react";
import type { ComponentProps } from "react";
import { reachedByKeys, toStage } from "./focus";
import { keysGoTo } from "./heldInput";

interface Props {
  trigger: React.ReactElement;
  width: string;
  placement?: NonNullable<ComponentProps<typeof Chakra.Root>["positioning"]>["placement"];
  testId?: string;
  /** What is shown; it gets a way to close it. */
  children: (close: () => void) => React.ReactNode;
}

/** A small sheet over the main view, by what opens it. */
export function Popover({ trigger, width, placement = "top", testId, children }: Props) {
  return (
    <Chakra.Root
      lazyMount
      unmountOnExit
      positioning={{ placement }}
      onOpenChange={({ open }) => open && keysGoTo("[data-scope=popover][data-part=content]")}
      onExitComplete={() => {
        const opener = document.activeElement;
        if (opener?.matches("[aria-haspopup]") && !reachedByKeys(opener)) toStage(opener);
      }}
    >
      <Chakra.Trigger asChild>{trigger}</Chakra.Trigger>
      <Portal>
        <Chakra.Positioner>
          <Chakra.Content
            bg="paper"
            color="ink"
            width={width}
            borderRadius="14px"
            fontSize="title"
            lineHeight="1.4"
            p="3.5"
            data-testid={testId}
          >
            <Chakra.Context>{(popover) => children(() => popover.setOpen(false))}</Chakra.Context>
          </Chakra.Content>
        </Chakra.Positioner>
      </Portal>
    </Chakra.Root>
  );
}
