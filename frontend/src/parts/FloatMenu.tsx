import { Menu, Portal } from "@chakra-ui/react";
import { create } from "zustand";
import { reachedByKeys, toStage } from "./focus";
import { keysGoTo } from "./heldInput";

export type Act = [string, () => void];

interface Opened {
  /** Counts the openings: each is a menu of its own. */
  turn: number;
  label: string;
  acts: Act[];
  at: { x: number; y: number };
  /** What had the focus, which gets it back. */
  from: Element | null;
}

const useMenu = create<{ opened: Opened | null }>(() => ({ opened: null }));
let turn = 0;

/** Open the one menu of the window at a place of it. */
export function openMenu(label: string, acts: Act[], [x, y]: [number, number]) {
  useMenu.setState({ opened: { turn: ++turn, label, acts, at: { x, y }, from: document.activeElement } });
  keysGoTo("[data-scope=menu][data-part=content]");
}

/** Open it under a button. */
export function openMenuBelow(label: string, acts: Act[], button: Element) {
  const box = button.getBoundingClientRect();
  openMenu(label, acts, [box.left, box.bottom + 2]);
}

/** Close it; the focus goes back to where it was, where that was reached by keys, else to the stage. */
function close(opened: Opened) {
  if (useMenu.getState().opened !== opened) return;
  const { from } = opened;
  useMenu.setState({ opened: null });
  if (from instanceof HTMLElement && from.isConnected && reachedByKeys(from)) from.focus({ preventScroll: true });
  else toStage(null);
}

/** The one menu of the window: by mouse, arrows, first letters, Enter and Esc. */
export function FloatMenu() {
  const opened = useMenu((state) => state.opened);
  if (!opened) return null;
  const { label, acts, at } = opened;
  return (
    <Menu.Root
      key={opened.turn}
      open
      positioning={{ placement: "bottom-start", gutter: 0, getAnchorRect: () => ({ ...at, width: 0, height: 0 }) }}
      defaultHighlightedValue={acts[0][0]}
      onOpenChange={({ open }) => open || close(opened)}
      onSelect={({ value }) => {
        close(opened);
        acts.find(([text]) => text === value)?.[1]();
      }}
      loopFocus
    >
      <Portal>
        <Menu.Positioner>
          <Menu.Content aria-label={label}>
            {acts.map(([text]) => (
              <Menu.Item key={text} value={text}>
                {text}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
