/** What has a keyboard of its own: over the main view no key of it works. */
const OVERLAY = "[data-scope=popover][data-part=content], [data-scope=menu], [role=dialog], [role=menu]";

/** Controls that a mouse presses; once pressed they let the keyboard go. */
const PRESSED = "button, a, summary, input[type=checkbox], input[type=radio], [role=radio], [role=button]";

export const inOverlay = (target: EventTarget | null) => target instanceof Element && target.closest(OVERLAY) !== null;

/** A key that is held presses a button once: its repeats press nothing, here or on what has the keyboard by then. */
export function watchHeldKeys() {
  const once = (event: KeyboardEvent) => {
    const presses = event.key === "Enter" || event.key === " ";
    if (event.repeat && presses && event.target instanceof Element && event.target.closest(PRESSED))
      event.preventDefault();
  };
  addEventListener("keydown", once, true);
}

/** Elements that were reached by Tab or the arrows: Space and Enter press them. */
const reached = new WeakSet<EventTarget>();
let walking = false;

export const reachedByKeys = (target: EventTarget | null) => target !== null && reached.has(target);

/** Give the keyboard to a control as an arrow does. */
export function focusByKeys(control: HTMLElement) {
  reached.add(control);
  control.focus();
}

/** Give the keyboard to the stage; from a field in a dialog or a sheet it stays there. */
export function toStage(from: Element | null = document.activeElement) {
  if (inOverlay(from)) return;
  const stage = document.querySelector<HTMLElement>("[data-testid=stage]");
  if (stage) stage.focus({ preventScroll: true });
  else if (from instanceof HTMLElement) from.blur();
}

/** What has the keyboard by now, where a sheet that is gone would give it back a moment late; null where nothing has. */
export function heldElsewhere(): HTMLElement | null {
  const { activeElement: held } = document;
  return held instanceof HTMLElement && held !== document.body && !inOverlay(held) ? held : null;
}

const REGIONS = "header, nav, [data-testid=stage], aside, section";
const TABBABLE = "a[href], button, input, select, textarea, [tabindex='0']";

/** Give the keyboard to the first control of the next part of the page, or the one before; round and round. */
export function toRegion(step: 1 | -1) {
  const regions = [...document.querySelectorAll<HTMLElement>(REGIONS)];
  // From the stage to the panel is the commonest way, though the page has the poses and the lanes between them.
  const panel = regions.findIndex((region) => region.dataset.testid === "panel");
  const moved = panel < 0 ? [] : regions.splice(panel, 1);
  regions.splice(regions.findIndex((region) => region.dataset.testid === "stage") + 1, 0, ...moved);
  const controls = regions.map((region) =>
    region.matches(TABBABLE)
      ? region
      : [...region.querySelectorAll<HTMLElement>(TABBABLE)].find(
          (one) => !one.matches(":disabled") && one.checkVisibility(),
        ),
  );
  const held = regions.findIndex((region) => region.contains(document.activeElement));
  // Where nothing has the keyboard, the stage does.
  const before = held < 0 ? regions.findIndex((region) => region.dataset.testid === "stage") : held;
  for (let away = 1; away <= regions.length; away++) {
    const control = controls[(before + step * away + regions.length * 2) % regions.length];
    if (!control) continue;
    walking = true;
    control.focus();
    return;
  }
}

/** Give the keyboard to the first control of a part of the page. */
export function toNamedRegion(region: string) {
  const found = document.querySelector<HTMLElement>(region);
  if (!found) return;
  const first = found.matches(TABBABLE)
    ? found
    : [...found.querySelectorAll<HTMLElement>(TABBABLE)].find(
        (one) => !one.matches(":disabled") && one.checkVisibility(),
      );
  if (first) focusByKeys(first);
}

/** Where nothing has the keyboard the stage gets it. */
function keepFocus() {
  if (document.activeElement === document.body && !document.querySelector(OVERLAY)) toStage();
}

const isWalk = (key: string) => key === "Tab" || key.startsWith("Arrow");

/**
 * The one rule for who has the keyboard: a control reached by Tab keeps it, and Space presses that control; one pressed
 * by a pointer gives it back to the stage at once.
 */
export function watchFocus() {
  window.addEventListener(
    "keydown",
    ({ key, target }) => {
      walking = isWalk(key);
      if (key === "Enter" && target) reached.add(target);
    },
    true,
  );
  window.addEventListener(
    "keyup",
    ({ key }) => {
      walking = false;
      // What Esc closed may have had the keyboard, and give it back only once it is gone.
      if (key === "Escape") for (const wait of [0, 60, 400]) window.setTimeout(keepFocus, wait);
    },
    true,
  );
  window.addEventListener(
    "pointerdown",
    ({ target }) => {
      walking = false;
      const control = target instanceof Element ? target.closest("button, a, input, select, [tabindex]") : null;
      if (control) reached.delete(control);
    },
    true,
  );
  document.addEventListener(
    "focusin",
    ({ target }) => {
      if (walking && target) reached.add(target);
    },
    true,
  );
  window.addEventListener("click", (event) => {
    const control = document.activeElement;
    if (event.detail === 0 || !control?.matches(PRESSED) || control.matches("[aria-haspopup]")) return;
    toStage(control);
  });
}
