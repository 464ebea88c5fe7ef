import { inOverlay } from "./focus";
import { put } from "./typeAhead";

/** How long keys and clicks wait at most, in milliseconds. */
const LONGEST = 3_000;

/** How long keys wait for a sheet or a menu, in milliseconds. */
const OPENING = 3_000;

let under = 0;
let opening = 0;
let clicks = 0;
const held: [KeyboardEvent | MouseEvent, EventTarget | null][] = [];

/**
 * Keys and clicks from now on wait for an answer that they may build on, such as what a typed time means. Where it is a
 * no, the keys are dropped, since they were meant for what did not come about; but Esc gives the draft back.
 */
export function inputWaitsFor(answer: Promise<boolean>, clicksToo = true, longest = LONGEST) {
  under += 1;
  if (clicksToo) clicks += 1;
  const enough = new Promise<boolean>((go) => setTimeout(() => go(true), longest));
  void Promise.race([answer, enough])
    .catch(() => false)
    .then((taken) => {
      under -= 1;
      if (clicksToo) clicks -= 1;
      if (under) return;
      for (const [event, target] of held.splice(0))
        if (event instanceof MouseEvent) target?.dispatchEvent(new MouseEvent(event.type, event));
        else if (taken || event.key === "Escape") again(event);
    });
}

/** What is open now gets the keyboard a moment later: keys until then are meant for it, and run no command meanwhile. */
export function keysGoTo(opened: string) {
  const until = performance.now() + OPENING;
  let seen = false;
  const has = (done: (there: boolean) => void) => {
    const content = document.querySelector<HTMLElement>(opened);
    const late = performance.now() > until;
    if (late) content?.focus({ preventScroll: true });
    const gone = seen && !content;
    seen ||= content !== null;
    // The kit numbers what lies over the page as soon as it hears Esc.
    const hears = content?.style.getPropertyValue("--layer-index") && document.activeElement?.closest(opened);
    if (gone || late || hears) done(true);
    else setTimeout(() => has(done), 8);
  };
  opening += 1;
  const there = new Promise<boolean>(has).finally(() => {
    opening -= 1;
  });
  inputWaitsFor(there, false, 2 * OPENING);
}

function again(event: KeyboardEvent) {
  const control = document.activeElement;
  if (control instanceof HTMLElement && event.type === "keydown" && control.matches("input, textarea"))
    put(control, event);
  else if (control?.dispatchEvent(new KeyboardEvent(event.type, event)) && presses(event, control))
    (control as HTMLElement).click();
}

/** Whether a key presses a control: the browser itself does so for the keys alone that it has from the keyboard. */
const presses = ({ type, key }: KeyboardEvent, control: Element) =>
  control.matches("button, a[href], summary") &&
  ((type === "keydown" && key === "Enter") || (type === "keyup" && key === " "));

let first: EventTarget | null = null;

/** The second click of a double click is meant for what the first one hit, also where that has moved away meanwhile. */
function second(event: MouseEvent) {
  const { target, detail } = event;
  if (detail < 2) first = target;
  else if (first instanceof Element && target instanceof Element && first.isConnected && !together(first, target)) {
    event.preventDefault();
    event.stopImmediatePropagation();
    if (detail === 2) first.dispatchEvent(new MouseEvent("dblclick", event));
  }
}

/** Whether two elements are parts of one, as words and the box that they name. */
const together = (a: Element, b: Element) =>
  a.contains(b) || b.contains(a) || (a.closest("label") !== null && a.closest("label") === b.closest("label"));

/** Hold input back while it waits, before anything else hears it. Tab goes its way, and what is typed into a field. */
export function watchHeldInput() {
  const hold = (event: KeyboardEvent | MouseEvent) => {
    if (!(event instanceof KeyboardEvent ? under : clicks) || !event.isTrusted) return;
    const { target } = event;
    if (event instanceof KeyboardEvent && !(opening && event.key !== "Tab")) {
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
  window.addEventListener("click", second, true);
}
