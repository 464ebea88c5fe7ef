import { type RefObject, useCallback, useEffect, useState } from "react";
import { type PanelImperativeHandle, usePanelRef } from "react-resizable-panels";
import { ROW } from "../lanes/rows";
import { ONE_LINE, whenStill } from "../poses/useStripRoom";
import { useScene } from "../session/useScene";

const BAR = 44;
const RULER = 26;
const LEAST_ROWS = 5;
/** The picture does not move with every layer that is added, but with every third. */
const ROWS_AT_ONCE = 3;
/** What the pose strip takes of the lanes when it has cards is made up for by as much. */
const SPARE = 36;
const SHARE = 0.4;
const KEY = "mudskipper.lanes.pulled";

/** How high the lanes are for so many layers, in a window of a height, while the pose strip is one line. */
export const roomOf = (layers: number, height: number) => {
  const rows = Math.max(Math.ceil(layers / ROWS_AT_ONCE) * ROWS_AT_ONCE, LEAST_ROWS);
  return Math.round(Math.min(RULER + rows * ROW + SPARE, (height - BAR) * SHARE));
};

/**
 * The room that the lanes take: their rows and the ruler, at most two fifths, so that the picture has the rest; until
 * somebody pulls them. `pulled` says that, `release` gives them their own height again.
 */
export function useLanesRoom(strip: RefObject<PanelImperativeHandle | null>) {
  const lanes = usePanelRef();
  const { scene } = useScene();
  const [height, setHeight] = useState(innerHeight);
  const [own, setOwn] = useState(() => localStorage.getItem(KEY) !== "yes");
  const room = roomOf(scene.layers?.length ?? 0, height);
  useEffect(() => {
    const hear = () => setHeight(innerHeight);
    addEventListener("resize", hear);
    return () => removeEventListener("resize", hear);
  }, []);
  useEffect(() => {
    if (!own) return;
    return whenStill(() => {
      const cards = (strip.current?.getSize().inPixels ?? ONE_LINE) - ONE_LINE;
      lanes.current?.resize(Math.max(room - Math.max(cards, 0), 0));
    });
  }, [own, room, lanes, strip]);
  const pulled = useCallback(() => {
    localStorage.setItem(KEY, "yes");
    setOwn(false);
  }, []);
  const release = useCallback(() => {
    localStorage.removeItem(KEY);
    setOwn(true);
  }, []);
  return { lanes, room, pulled, release };
}
