import { inOverlay } from "./focus";

/** How long keys and clicks wait at most, in milliseconds. */
const LONGEST = 1_000;

let under = 0;
const held: [KeyboardEvent | MouseEvent, EventTarget | null][] = [];

/**
 * Keys and clicks from now on wait for an answer that they may build on, such as what a typed time means. Where it is a
 * no, the keys are dropped, since they were meant for what did not come about; but Esc gives the draft back.
 */
export function inputWaitsFor(answer: Promise<boolean>) {
  under += 1;
  const enough = new Promise<boolean>((go) => setTimeout(() => go(true), LONGEST));
  void Promise.race([answer, enough])
    .catch(() => false)
    .then((taken) => {
      under -= 1;
      if (under) return;
      for (const [event, target] of held.splice(0))
        if (event instanceof MouseEvent) target?.dispatchEvent(new MouseEvent(event.type, event));
        else if (taken || event.key === "Escape")
          document.activeElement?.dispatchEvent(new KeyboardEvent(event.type, event));
    });
}

/** Hold input back while it waits, before anything else hears it. Tab goes its way, and what is typed into a field. */
export function watchHeldInput() {
  const hold = (event: KeyboardEvent | MouseEvent) => {
    if (!under || !event.isTrusted) return;
    const { target } = event;
    if (event instanceof KeyboardEvent) {
      const typed = target instanceof Element && (target.matches("input, textarea, select") || inOverlay(target));
      if (typed || event.key === "Tab") return;
    }
    event.preventDefault();
    event.stopImmediatePropagation();
    held.push([event, target]);
  };
  window.addEventListener("keydown", hold, true);
  window.addEventListener("keyup", hold, true);
  window.addEventListener("click", hold, true);
}
