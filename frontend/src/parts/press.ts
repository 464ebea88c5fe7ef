/** Where a hand is and what it holds: two events alike in this tell the same. */
const told = (event: PointerEvent) =>
  [event.clientX, event.clientY, event.pointerId, event.ctrlKey, event.metaKey, event.shiftKey, event.altKey].join();

/**
 * Hear of a pointer's moves as soon as they are made. A browser tells `pointermove` only as it begins its next frame,
 * by when an answer could have been there; `pointerrawupdate` (Pointer Events, where it is supported) comes at once. What
 * was told already is not told again.
 */
export function onMoves(target: EventTarget, move: (event: PointerEvent) => void, options: AddEventListenerOptions) {
  let last = "";
  const moved = (event: Event) => {
    if (!(event instanceof PointerEvent)) return;
    const now = told(event);
    // The move is taken: nobody above need measure the page for it.
    event.preventDefault();
    if (now !== last) move(event);
    last = now;
  };
  for (const name of ["pointerrawupdate", "pointermove"]) target.addEventListener(name, moved, options);
}

interface Press {
  move: (event: PointerEvent) => void;
  end: () => void;
  /** Esc, or a pointer that was lost: give back. */
  cancel: () => void;
}

/** Follow a press of the pointer until it ends; listens only as long as it lasts. */
export function follow({ move, end, cancel }: Press) {
  const listening = new AbortController();
  const { signal } = listening;
  const up = () => {
    listening.abort();
    end();
  };
  const lost = () => {
    listening.abort();
    cancel();
  };
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
