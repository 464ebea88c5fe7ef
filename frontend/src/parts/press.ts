interface Press {
  move: (event: PointerEvent) => void;
  end: () => void;
  /** Esc, or a pointer that was lost: give back. */
  cancel: () => void;
}

/**
 * Follow a press of the pointer until it ends: listens only as long as it lasts, and tells whoever measures the page
 * under the pointer (the edges of the panels) that the move is taken.
 */
export function follow({ move, end, cancel }: Press) {
  const listening = new AbortController();
  const { signal } = listening;
  const moved = (event: PointerEvent) => {
    event.preventDefault();
    move(event);
  };
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
  window.addEventListener("pointermove", moved, { capture: true, signal });
  window.addEventListener("pointerup", up, { signal });
  window.addEventListener("pointercancel", lost, { signal });
  window.addEventListener("keydown", key, { capture: true, signal });
}
