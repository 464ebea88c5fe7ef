/** How long typing waits for a field at most, in milliseconds. */
const LONGEST = 2_000;

/** A field that is about to be there: what selects it in the page, and whether it still comes. */
export interface Coming {
  field: string;
  /** Settles as soon as it is known whether the field comes at all. */
  comes: Promise<boolean>;
}

/**
 * Give the keyboard to a field as soon as it is there. What is typed until then is typed into it: no letter of it runs a
 * command, and none is lost. Where the field does not come, what was typed is dropped; who goes to another field meanwhile
 * writes there.
 */
export function typeInto({ field, comes }: Coming): Promise<boolean> {
  const typed: KeyboardEvent[] = [];
  let elsewhere = false;
  const left = ({ target }: FocusEvent) => {
    if (!(target instanceof Element) || !target.matches("input, textarea") || target.matches(field)) return;
    elsewhere = true;
    end();
  };
  const hear = (event: KeyboardEvent) => {
    if (!event.isTrusted || event.key === "Tab") return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (event.type === "keydown") typed.push(event);
  };
  window.addEventListener("keydown", hear, true);
  window.addEventListener("keyup", hear, true);
  document.addEventListener("focusin", left, true);
  const end = () => {
    window.removeEventListener("keydown", hear, true);
    window.removeEventListener("keyup", hear, true);
    document.removeEventListener("focusin", left, true);
  };
  return comes
    .then((coming) => (coming ? there(field) : null))
    .catch(() => null)
    .then((found) => {
      end();
      if (!found || elsewhere) return false;
      found.focus({ preventScroll: true });
      for (const event of typed) put(found, event);
      return true;
    });
}

/** The field, once the page has it and nothing takes the keyboard away again. */
async function there(field: string): Promise<HTMLElement | null> {
  const until = performance.now() + LONGEST;
  while (performance.now() < until) {
    const found = document.querySelector<HTMLElement>(field);
    if (found) {
      // A menu that closes gives the keyboard back to what opened it.
      await frame();
      await frame();
      return document.querySelector<HTMLElement>(field);
    }
    await frame();
  }
  return null;
}

const frame = () => new Promise((done) => requestAnimationFrame(done));

/** Do in a field what a key that was held back does. */
export function put(field: HTMLElement, event: KeyboardEvent) {
  const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
  if (plain && event.key.length === 1) document.execCommand("insertText", false, event.key);
  else if (plain && event.key === "Backspace") document.execCommand("delete");
  else field.dispatchEvent(new KeyboardEvent(event.type, event));
}
