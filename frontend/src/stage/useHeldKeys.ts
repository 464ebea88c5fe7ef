import { useEffect } from "react";

/** Keys held while the pointer works: Q and W move the anchor from anywhere, A the content behind its window, H pans. */
export const held = new Set<string>();

/** Hear which keys are held, and Esc before all else: true from `onEscape` says that it was meant for the stage. */
export function useHeldKeys(onEscape: () => boolean) {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea, select")) return;
      // Where Ctrl or Cmd is held no letter is let go of on some systems.
      if (!event.ctrlKey && !event.metaKey) held.add(event.key.toLowerCase());
      if (event.key === "Escape" && onEscape()) event.stopImmediatePropagation();
    };
    const up = (event: KeyboardEvent) => held.delete(event.key.toLowerCase());
    const blur = () => held.clear();
    window.addEventListener("keydown", down, true);
    window.addEventListener("keyup", up, true);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("keydown", down, true);
      window.removeEventListener("keyup", up, true);
      window.removeEventListener("blur", blur);
    };
  }, [onEscape]);
}
