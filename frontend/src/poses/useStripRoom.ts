import { useEffect } from "react";
import { usePanelRef } from "react-resizable-panels";
import { layerAt } from "../document/items";
import { isKeyed } from "../document/tracks";
import { pressing } from "../parts/press";
import { useScene } from "../session/useScene";
import { useHabits } from "../state/habits";
import { useSelection } from "../state/selection";

export const ONE_LINE = 30;
export const LEAST = 120;

/** A second click in the lanes comes within this time, unless the pointer leaves them: until then they do not move. In
 * milliseconds. */
const CLICKED = 450;
const KEY = "mudskipper.strip";

let pressed = Number.NEGATIVE_INFINITY;
window.addEventListener(
  "pointerdown",
  ({ target }) => {
    if (target instanceof Element && target.closest("[data-lanes]")) pressed = performance.now();
  },
  true,
);
window.addEventListener(
  "pointermove",
  ({ target }) => {
    if (pressed > 0 && target instanceof Element && !target.closest("[data-lanes]")) pressed = Number.NEGATIVE_INFINITY;
  },
  true,
);

/** Do something once no hand is in the lanes, where a second click may come; what is given back calls it off. */
export function whenStill(act: () => void): () => void {
  let timer = 0;
  const wait = () => {
    if (pressing() || performance.now() - pressed < CLICKED) timer = window.setTimeout(wait, 50);
    else act();
  };
  wait();
  return () => window.clearTimeout(timer);
}

/**
 * The room that the pose strip takes: one line while what is selected has no pose, else what it had. The lanes below get
 * the rest of it, so that the picture never moves; and they wait with it until a hand in them has let go.
 */
export function useStripRoom() {
  const panel = usePanelRef();
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const numbers = useHabits((state) => state.poseFace === "numbers") && selected.length === 1;
  const empty =
    !numbers &&
    !selected.some((id) => {
      const layer = layerAt(scene.layers, id);
      return layer && isKeyed(layer);
    });
  useEffect(() => {
    const take = () => {
      const strip = panel.current!;
      const { inPixels } = strip.getSize();
      if (empty) {
        if (inPixels >= LEAST) localStorage.setItem(KEY, `${Math.round(inPixels)}`);
        strip.collapse();
      } else if (inPixels < LEAST) strip.resize(Math.max(Number(localStorage.getItem(KEY)) || 0, LEAST + 2));
    };
    return whenStill(take);
  }, [panel, empty]);
  useEffect(() => {
    const strip = document.querySelector<HTMLElement>("[data-testid=pose-strip]")!;
    const seen = new ResizeObserver(() => {
      strip.dataset.room = strip.clientHeight < LEAST ? "line" : "cards";
    });
    seen.observe(strip);
    return () => seen.disconnect();
  }, []);
  return panel;
}
