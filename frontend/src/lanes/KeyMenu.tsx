import { Box, chakra, Portal } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import { create } from "zustand";
import { choices, choose } from "../scene/choices";
import type { Session } from "../scene/session";
import { useSession } from "../scene/session";
import { copyKeys, deleteKeys, keysOf, pasteKeys, selectKeys, spanOf } from "./keys";

const useMenu = create<{ at: [number, number] | null }>(() => ({ at: null }));

/** Open the menu of the selected keys at a place of the window. */
export const openKeyMenu = (x: number, y: number) => useMenu.setState({ at: [x, y] });

/** What can be done with the selected keys, for the menu and for the keyboard's list. */
function actsOf(session: Session): [string, () => void][] {
  const { keys } = choices();
  const [first, last] = spanOf(keys);
  const ref = keys[0];
  const retime = (way: "reverse" | "snap") =>
    void session.edit({ edit: "retime_keys", keys, way, about: 0, factor: 1 });
  return [
    ["Edit values…", () => choose({ dialog: "values" })],
    ["Ease…", () => choose({ dialog: "easing" })],
    ["Copy", () => copyKeys(session, keys)],
    ["Paste at the playhead", () => pasteKeys(session)],
    [
      "Move to the playhead",
      () =>
        void session
          .edit({ edit: "move_keys", keys, by: session.frames.frame - first })
          .then(() => choose({ keys: [] })),
    ],
    ["All of this property", () => selectKeys(keysOf(session, ref.layer, ref.property))],
    ["All at this moment", () => selectKeys(keysOf(session, ref.layer, undefined, ref.frame))],
    ["Reverse", () => retime("reverse")],
    ["Snap to whole frames", () => retime("snap")],
    ["Loop over these", () => choose({ range: [Math.floor(first), Math.ceil(last)], loopOver: "range", loop: true })],
    ["Delete", () => deleteKeys(session, keys)],
  ];
}

/** The menu of the selected keys. */
export function KeyMenu() {
  const session = useSession();
  const at = useMenu((state) => state.at);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!at) return;
    list.current?.querySelector<HTMLElement>("button")?.focus();
    const close = (event: Event) => {
      if (event.target instanceof Node && list.current?.contains(event.target)) return;
      useMenu.setState({ at: null });
    };
    window.addEventListener("pointerdown", close, true);
    return () => window.removeEventListener("pointerdown", close, true);
  }, [at]);
  if (!at || !choices().keys.length) return null;
  const walk = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    const items = [...list.current!.querySelectorAll<HTMLElement>("button")];
    const place = items.indexOf(document.activeElement as HTMLElement);
    if (event.key === "Escape") useMenu.setState({ at: null });
    else if (event.key === "ArrowDown") items[(place + 1) % items.length].focus();
    else if (event.key === "ArrowUp") items[(place - 1 + items.length) % items.length].focus();
    else return;
    event.preventDefault();
  };
  return (
    <Portal>
      <Box
        ref={list}
        role="menu"
        aria-label="Selected keys"
        position="fixed"
        left={`${Math.min(at[0], window.innerWidth - 200)}px`}
        top={`${Math.min(at[1], window.innerHeight - 300)}px`}
        zIndex="popover"
        bg="paper"
        borderWidth="1px"
        borderColor="edge"
        borderRadius="10px"
        boxShadow="lg"
        p="1"
        onKeyDown={walk}
      >
        {actsOf(session).map(([text, act]) => (
          <chakra.button
            key={text}
            type="button"
            role="menuitem"
            display="block"
            width="180px"
            textAlign="left"
            px="2.5"
            py="1"
            borderRadius="7px"
            cursor="pointer"
            color="ink"
            _hover={{ bg: "actWash" }}
            _focus={{ bg: "actWash", outline: "none" }}
            onClick={() => {
              useMenu.setState({ at: null });
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
