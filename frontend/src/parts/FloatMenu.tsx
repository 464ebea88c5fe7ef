import { Box, chakra, Portal } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import { create } from "zustand";
import { reachedByKeys, toStage } from "./focus";

export type Act = [string, () => void];

interface Open {
  label: string;
  acts: Act[];
  at: [number, number];
  /** What had the focus, which gets it back. */
  from: HTMLElement | null;
}

const useMenu = create<{ open: Open | null }>(() => ({ open: null }));

/** Open the one menu of the window at a place of it. */
export const openMenu = (label: string, acts: Act[], at: [number, number]) =>
  useMenu.setState({ open: { label, acts, at, from: document.activeElement as HTMLElement | null } });

/** Open it under a button. */
export function openMenuBelow(label: string, acts: Act[], button: Element) {
  const box = button.getBoundingClientRect();
  openMenu(label, acts, [box.left, box.bottom + 2]);
}

function close() {
  const { open } = useMenu.getState();
  useMenu.setState({ open: null });
  if (open?.from?.isConnected && reachedByKeys(open.from)) open.from.focus({ preventScroll: true });
  else toStage(null);
}

/** The one menu of the window: by mouse, arrows, Enter and Esc. */
export function FloatMenu() {
  const open = useMenu((state) => state.open);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!open) return;
    list.current?.querySelector<HTMLElement>("button")?.focus();
    const away = (event: Event) => {
      if (event.target instanceof Node && list.current?.contains(event.target)) return;
      useMenu.setState({ open: null });
    };
    window.addEventListener("pointerdown", away, true);
    return () => window.removeEventListener("pointerdown", away, true);
  }, [open]);
  if (!open) return null;
  const walk = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    const items = [...list.current!.querySelectorAll<HTMLElement>("button")];
    const place = items.indexOf(document.activeElement as HTMLElement);
    if (event.key === "Escape") close();
    else if (event.key === "ArrowDown") items[(place + 1) % items.length].focus();
    else if (event.key === "ArrowUp") items[(place - 1 + items.length) % items.length].focus();
    else return;
    event.preventDefault();
  };
  const [x, y] = open.at;
  return (
    <Portal>
      <Box
        ref={list}
        role="menu"
        aria-label={open.label}
        position="fixed"
        style={{
          left: Math.min(x, window.innerWidth - 200),
          top: Math.max(Math.min(y, window.innerHeight - 27 * open.acts.length - 16), 4),
        }}
        zIndex="popover"
        bg="paper"
        borderWidth="1px"
        borderColor="edge"
        borderRadius="10px"
        boxShadow="lg"
        p="1"
        onKeyDown={walk}
      >
        {open.acts.map(([text, act]) => (
          <chakra.button
            key={text}
            type="button"
            role="menuitem"
            display="block"
            width="190px"
            textAlign="left"
            px="2.5"
            py="0.5"
            lineHeight="22px"
            borderRadius="7px"
            cursor="pointer"
            color="ink"
            _hover={{ bg: "actWash" }}
            _focus={{ bg: "actWash", outline: "none" }}
            onClick={() => {
              close();
              act();
            }}
          >
            {text}
          </chakra.button>
        ))}
      </Box>
    </Portal>
  );
}
