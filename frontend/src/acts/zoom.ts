import { commonBox, type Point } from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { selection } from "../state/selection";
import { setViewport } from "../state/viewport";

const LEAST = 0.02;
const MOST = 64;
/** The room left around what is zoomed to, in screen pixels. */
const MARGIN = 48;

export const bounded = (scale: number) => Math.min(Math.max(scale, LEAST), MOST);

/** The stage's size on the screen, and the scale at which it shows the scene. */
function stage(): { room: Point; scale: number } {
  const box = document.querySelector<HTMLElement>("[data-testid=stage]");
  return { room: [box?.clientWidth ?? 800, box?.clientHeight ?? 400], scale: Number(box?.dataset.scale) || 1 };
}

/** Zoom by a factor about the middle of the view. */
export const zoomBy = (factor: number) => setViewport({ zoom: bounded(stage().scale * factor) });

/** The whole scene, fitted. */
export const fit = () => setViewport({ zoom: null, centre: null });

/** The selected layers, as large as there is room for; the whole scene where none is selected. */
export function zoomToSelection(session: Session) {
  const { frames } = session;
  const arrays = selection().selected.flatMap((id) => frames.layer(id) ?? []);
  if (!arrays.length) {
    fit();
    return;
  }
  const [left, top, right, bottom] = commonBox(arrays, frames.frame);
  const { room } = stage();
  const along = (size: number, room: number) => Math.max(room - 2 * MARGIN, 40) / Math.max(size, 1);
  const scale = Math.min(along(right - left, room[0]), along(bottom - top, room[1]), 8);
  setViewport({ zoom: bounded(scale), centre: [(left + right) / 2, (top + bottom) / 2] });
}
