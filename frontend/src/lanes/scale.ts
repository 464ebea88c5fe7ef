import { createContext, useContext } from "react";

/** The width of the names' column, and the free edge before the first frame. */
export const NAMES = 236;
export const EDGE = 10;
export const END = 18;

/** How frames lie on the lanes: the width of one, and the frame at the left edge. */
export interface LaneScale {
  frameWidth: number;
  from: number;
  width: number;
}

export const ScaleContext = createContext<LaneScale>({ frameWidth: 4, from: 0, width: 900 });

export const useScale = () => useContext(ScaleContext);

/** Where the left edge of a frame is, in pixels from the end of the names. */
export const toX = ({ frameWidth, from }: LaneScale, frame: number) => EDGE + (frame - from) * frameWidth;

/** The frame at a place of the lanes. */
export const toFrame = ({ frameWidth, from }: LaneScale, x: number) => (x - EDGE) / frameWidth + from;

/** Whether any of frames first…last shows. */
export const shows = (scale: LaneScale, first: number, last: number) =>
  toX(scale, last + 1) > -20 && toX(scale, first) < scale.width + 20;
