import type { Edit } from "../../api/client";
import type { Point } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";

/** Keys held while a pointer moves: Ctrl/Cmd lets go of the magnet, Shift keeps straight or in proportion. */
export interface Keys {
  free: boolean;
  straight: boolean;
  alt: boolean;
}

/** A gesture in progress: what each move of the pointer does, what letting go keeps, what Esc gives back. */
export interface Gesture {
  move(screen: Point, keys: Keys): void;
  end(): void;
  cancel(): void;
}

/** What the overlay lights while a gesture runs. */
export interface Lit {
  /** The station to which the anchor is drawn. */
  station: string | null;
  /** Lines that hold the pointer, in scene pixels. */
  guides: { x?: number; y?: number };
  anchor: boolean;
  /** What holds the pointer, or what the gesture is doing, in words. */
  note: string;
  /** The frame of a selection while it is dragged, in stage pixels. */
  marquee: [Point, Point] | null;
  /** The point that the pen puts down, and its handle, in the scene. */
  pen: { at: Point; handle: Point } | null;
  /** Where the pointer is while a path is drawn, in the scene. */
  next: Point | null;
  /** What is drawn, from a point to a point in stage pixels. */
  drawn: { what: string; ends: [Point, Point] } | null;
  /** The outer ring is under the pointer. */
  ring: boolean;
  /** Handles of a path key while one is dragged, in pixels from it. */
  handles: { leave?: Point; arrive?: Point } | null;
}

const DARK: Lit = {
  station: null,
  guides: {},
  anchor: false,
  note: "",
  marquee: null,
  pen: null,
  next: null,
  drawn: null,
  ring: false,
  handles: null,
};
export const lit: Lit = { ...DARK };

export const darken = () => Object.assign(lit, DARK, { guides: {} });

/** A gesture that sends provisional edits, and keeps the last of them. */
export abstract class Sending implements Gesture {
  private last: Edit[] | null = null;

  constructor(protected readonly session: Session) {}

  abstract move(screen: Point, keys: Keys): void;

  protected send(...edits: Edit[]) {
    this.last = edits;
    this.session.try(edits);
  }

  end() {
    darken();
    if (this.last) void this.session.edit(...this.last);
    else this.session.cancel();
    this.session.frames.notify();
  }

  cancel() {
    darken();
    this.session.cancel();
    this.session.frames.notify();
  }
}

/** Whole pixels; tenths where the picture is enlarged. */
export const tidied = ([x, y]: Point, scale: number): Point => {
  const fine = scale > 1 ? 10 : 1;
  return [Math.round(x * fine) / fine, Math.round(y * fine) / fine];
};
