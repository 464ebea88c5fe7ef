import { Menu, Portal } from "@chakra-ui/react";
import { Fragment } from "react";
import { create } from "zustand";
import { reachedByKeys, toStage } from "./focus";
import { keysGoTo } from "./heldInput";
import { chakra } from "./styled";

/** What a menu offers: its words, what it does, and the keys that do it, too. */
export type Act = [words: string, act: () => void, keys?: string];

interface Opened {
  /** Counts the openings: each is a menu of its own. */
  turn: number;
  label: string;
  /** In groups that a line parts. */
  groups: Act[][];
  at: { x: number; y: number };
  /** What had the focus, which gets it back. */
  from: Element | null;
}

const useMenu = create<{ opened: Opened | null }>(() => ({ opened: null }));
let turn = 0;

/** Open the one menu of the window at a place of it. */
export function openMenu(label: string, acts: Act[] | Act[][], [x, y]: [number, number]) {
  const groups = (Array.isArray(acts[0]?.[0]) ? acts : [acts]) as Act[][];
  useMenu.setState({ opened: { turn: ++turn, label, groups, at: { x, y }, from: document.activeElement } });
  keysGoTo("[data-scope=menu][data-part=content]");
}

/** Open it under a button. */
export function openMenuBelow(label: string, acts: Act[] | Act[][], button: Element) {
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
  const { label, groups, at } = opened;
  return (
    <Menu.Root
      key={opened.turn}
      open
      positioning={{ placement: "bottom-start", gutter: 0, getAnchorRect: () => ({ ...at, width: 0, height: 0 }) }}
      defaultHighlightedValue={groups[0][0][0]}
      onOpenChange={({ open }) => open || close(opened)}
      onSelect={({ value }) => {
        close(opened);
        groups
          .flat()
          .find(([text]) => text === value)?.[1]();
      }}
      loopFocus
    >
      <Portal>
        <Menu.Positioner>
          <Menu.Content
            aria-label={label}
            // A pointer that rests where the menu opens chooses nothing: the arrows do.
            onPointerMoveCapture={(event) => {
              if (!event.movementX && !event.movementY) event.stopPropagation();
            }}
          >
            {groups.map((acts, i) => (
              <Fragment key={acts[0][0]}>
                {i > 0 && <Menu.Separator borderTopWidth="1px" borderColor="edge" my="1" mx="2" />}
                {acts.map(([text, , keys]) => (
                  <Menu.Item key={text} value={text}>
                    {text}
                    {keys && (
                      <chakra.span ml="auto" pl="4" fontSize="caption" aria-hidden>
                        {keys}
                      </chakra.span>
                    )}
                  </Menu.Item>
                ))}
              </Fragment>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
