/** Where a pointer is and what is held with it: two events alike in this say the same. */
const signature = (event: PointerEvent) =>
  [event.clientX, event.clientY, event.pointerId, event.ctrlKey, event.metaKey, event.shiftKey, event.altKey].join();

/**
 * Hear of a pointer's moves as soon as they are made. A browser sends `pointermove` only as it begins its next frame, by
 * when an answer could have been there; `pointerrawupdate` (Pointer Events, where it is supported) comes at once. A move
 * that was heard already is not passed on again.
 */
export function onMoves(target: EventTarget, move: (event: PointerEvent) => void, options: AddEventListenerOptions) {
  let last = "";
  const moved = (event: Event) => {
    if (!(event instanceof PointerEvent)) return;
    const now = signature(event);
    // The move is taken: nobody above need measure the page for it.
    event.preventDefault();
    if (now !== last) move(event);
    last = now;
  };
  for (const name of ["pointerrawupdate", "pointermove"]) target.addEventListener(name, moved, options);
}

/** The press that is under way in this window: while there is one, no key but those of the press works. */
let current: { cancel: () => void } | null = null;

export const pressing = () => current !== null;

/** Give back what the pointer holds, as Esc does. */
export const cancelPress = () => current?.cancel();

/** Tell that a press is under way; call what is returned when it ends. */
export function hold(cancel: () => void): () => void {
  const mine = { cancel };
  current = mine;
  return () => {
    if (current === mine) current = null;
  };
}

interface Press {
  move: (event: PointerEvent) => void;
  end: () => void;
  /** Esc, undo, or a pointer that was lost: give back. */
  cancel: () => void;
}

/** Follow a press of the pointer until it ends; listens only as long as it lasts. */
export function follow({ move, end, cancel }: Press) {
  const listening = new AbortController();
  const { signal } = listening;
  const stop = () => {
    listening.abort();
    release();
  };
  const up = () => {
    stop();
    end();
  };
  const lost = () => {
    stop();
    cancel();
  };
  const release = hold(lost);
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.stopImmediatePropagation();
    lost();
  };
  onMoves(window, move, { capture: true, signal });
  window.addEventListener("pointerup", up, { signal });
  window.addEventListener("pointercancel", lost, { signal });
  window.addEventListener("keydown", key, { capture: true, signal });
}
