import { Dialog, Portal } from "@chakra-ui/react";
import { X } from "lucide-react";
import { useEffect, useState } from "react";
import { keysGoTo } from "../parts/heldInput";
import { Pill } from "../parts/Pill";
import { setPage, usePage, type Dialog as Which } from "../state/page";

interface Props {
  name: Which;
  title: string;
  width: string;
  children: React.ReactNode;
  /** What has the keyboard first; by default the first that can. */
  first?: () => HTMLElement | null;
}

/** Fields that Esc leaves before it closes the window: always, or while something is being typed. */
const LEFT_FIRST = "[data-leaves=yes], [data-leaves=typing][data-typing=yes]";

/** A window over the main view, open while the choice says so. */
export function Window({ name, title, width, children, first }: Props) {
  const open = usePage((state) => state.dialog === name);
  // Dialogs that were never opened would cost the page a tenth of its first paint.
  const [there, setThere] = useState(open);
  if (open && !there) setThere(true);
  useEffect(() => {
    if (open) keysGoTo("[role=dialog]");
  }, [open]);
  if (!there) return null;
  return (
    <Dialog.Root
      open={open}
      initialFocusEl={first}
      onOpenChange={(change) => setPage({ dialog: change.open ? name : null })}
      onExitComplete={() => setThere(false)}
      // A name that is being typed is given up first.
      onEscapeKeyDown={(event) =>
        event.target instanceof Element && event.target.matches(LEFT_FIRST) && event.preventDefault()
      }
      lazyMount
      unmountOnExit
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="paper" color="ink" maxWidth={width} borderRadius="16px" data-testid={`${name}-dialog`}>
            <Dialog.Header pt="4" pb="2" display="flex" alignItems="center" justifyContent="space-between">
              <Dialog.Title fontSize="name" fontWeight={700} lineHeight="28px">
                {title}
              </Dialog.Title>
              <Dialog.CloseTrigger asChild position="static">
                <Pill look="bare" label="Close" mr="-1.5">
                  <X size={16} />
                </Pill>
              </Dialog.CloseTrigger>
            </Dialog.Header>
            <Dialog.Body pb="5" fontSize="row">
              {children}
            </Dialog.Body>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
