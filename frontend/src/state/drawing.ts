import { create } from "zustand";

/** What is drawn by a drag over the stage. */
export const DRAWN = ["rectangle", "ellipse", "polygon", "star", "line", "arrow", "text", "mask"] as const;
export type Drawn = (typeof DRAWN)[number];

export const DRAWN_WORDS: Record<Drawn, string> = {
  rectangle: "Rectangle",
  ellipse: "Ellipse",
  polygon: "Polygon",
  star: "Star",
  line: "Line",
  arrow: "Arrow",
  text: "Text box",
  mask: "Mask",
};

interface Drawing {
  /** What the next drag over the stage draws. */
  draws: Drawn | null;
  /** The size that is typed for it, as it is typed so far. */
  typed: string;
  /** A drag that draws it is under way. */
  under: boolean;
}

export const useDrawing = create<Drawing>(() => ({ draws: null, typed: "", under: false }));
export const drawing = useDrawing.getState;

export const drawNext = (draws: Drawn | null) => useDrawing.setState({ draws, typed: "", under: false });
export const typeSize = (typed: string) => useDrawing.setState({ typed });

/** The size that was typed: `240 × 80`, `240x80`, or one number for both; null where it is none yet. */
export function typedSize(text: string): [number, number] | null {
  const found = /^\s*(\d+(?:[.,]\d+)?)\s*(?:[x×*, ]\s*(\d+(?:[.,]\d+)?))?\s*$/i.exec(text);
  if (!found) return null;
  const [width, height] = [found[1], found[2] ?? found[1]].map((part) => Number(part.replace(",", ".")));
  return width > 0 && height > 0 && Math.max(width, height) <= 100_000 ? [width, height] : null;
}
