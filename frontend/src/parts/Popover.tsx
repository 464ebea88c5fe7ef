import { Popover as Chakra, Portal } from "@chakra-ui/react";
import { type ComponentProps, useRef, useState } from "react";
import { heldElsewhere, reachedByKeys, toStage } from "./focus";
import { keysGoTo } from "./heldInput";

interface Props {
  trigger: React.ReactElement;
  /** What the sheet is called. */
  label: string;
  width: string;
  placement?: NonNullable<ComponentProps<typeof Chakra.Root>["positioning"]>["placement"];
  testId?: string;
  /** What is shown; it gets a way to close it. */
  children: (close: () => void) => React.ReactNode;
}

/** Milliseconds: a second press of Enter that comes within them was meant for the sheet that the first one closed. */
const SECOND_PRESS = 600;
let entered = Number.NEGATIVE_INFINITY;
const hear = ({ key }: KeyboardEvent) => {
  if (key === "Enter") entered = performance.now();
};
window.addEventListener("keydown", hear, true);
const byEnter = () => performance.now() - entered < 100;

/** A small sheet over the main view, by what opens it. */
export function Popover({ trigger, label, width, placement = "top", testId, children }: Props) {
  const [open, setOpen] = useState(false);
  const closed = useRef(Number.NEGATIVE_INFINITY);
  const close = () => {
    if (byEnter()) closed.current = performance.now();
    setOpen(false);
  };
  return (
    <Chakra.Root
      open={open}
      lazyMount
      unmountOnExit
      positioning={{ placement }}
      finalFocusEl={heldElsewhere}
      onOpenChange={({ open: next }) => {
        if (next && byEnter() && performance.now() - closed.current < SECOND_PRESS) return;
        setOpen(next);
        if (next) keysGoTo("[data-scope=popover][data-part=content]");
      }}
      onExitComplete={() => {
        const opener = document.activeElement;
        if (opener?.matches("[aria-haspopup]") && !reachedByKeys(opener)) toStage(opener);
      }}
    >
      <Chakra.Trigger asChild>{trigger}</Chakra.Trigger>
      <Portal>
        <Chakra.Positioner>
          <Chakra.Content
            aria-label={label}
            bg="paper"
            color="ink"
            width={width}
            borderRadius="14px"
            fontSize="title"
            lineHeight="1.4"
            p="3.5"
            data-testid={testId}
          >
            {children(close)}
          </Chakra.Content>
        </Chakra.Positioner>
      </Portal>
    </Chakra.Root>
  );
}
