import type { Edit } from "../api/client";
import { choices } from "../scene/choices";
import type { Session } from "../scene/session";
import { anchorAt, distance, type Point, STATIONS, stationAt, toScene, type View } from "./view";

/** A gesture in progress: what each move of the pointer sends, what letting go keeps, what Esc gives back. */
export interface Gesture {
  move(screen: Point, keys: { free: boolean; straight: boolean }): void;
  end(): void;
  cancel(): void;
}

const SNAP = 12;

/** What the overlay lights while a gesture runs. */
export const lit: { station: string | null; guides: { x?: number; y?: number }; anchor: boolean } = {
  station: null,
  guides: {},
  anchor: false,
};

const dark = () => Object.assign(lit, { station: null, guides: {}, anchor: false });

abstract class Sending implements Gesture {
  private last: Edit[] | null = null;

  constructor(protected readonly session: Session) {}

  abstract move(screen: Point, keys: { free: boolean; straight: boolean }): void;

  protected send(edits: Edit[]) {
    this.last = edits;
    this.session.try(edits);
  }

  end() {
    dark();
    if (this.last) void this.session.edit(...this.last);
    else this.session.frames.notify();
  }

  cancel() {
    dark();
    this.session.cancel();
    this.session.frames.notify();
  }
}

/** Drag the anchor: magnetic to the nine stations and the scene's centre, let go with Ctrl or Cmd. */
export class AnchorDrag extends Sending {
  private readonly frame: number;
  private readonly offset: Point;
  private readonly stations: [string, Point][];
  private readonly centre: Point;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly view: View,
    start: Point,
    private readonly keep: "picture" | "anchor",
    size: Point,
  ) {
    super(session);
    this.frame = session.frames.frame;
    const arrays = session.frames.layer(layer)!;
    const [ax, ay] = anchorAt(arrays, this.frame);
    const [sx, sy] = toScene(view, start);
    this.offset = [ax - sx, ay - sy];
    this.stations = Object.entries(STATIONS).map(([name, at]) => [name, stationAt(arrays, this.frame, at)]);
    this.centre = [size[0] / 2, size[1] / 2];
    lit.anchor = true;
  }

  move(screen: Point, keys: { free: boolean; straight: boolean }) {
    const [x, y] = toScene(this.view, screen);
    const fine = this.view.scale > 1 ? 10 : 1;
    const whole = (n: number) => Math.round(n * fine) / fine;
    const point: Point = [whole(x + this.offset[0]), whole(y + this.offset[1])];
    const magnetic = choices().magnet && !keys.free;
    const reach = SNAP / this.view.scale;
    const [near] = this.stations
      .map(([name, at]) => ({ name, far: distance(at, point) }))
      .sort((a, b) => a.far - b.far);
    lit.station = null;
    lit.guides = {};
    const base = {
      edit: "move_anchor" as const,
      layer: this.layer,
      frame: this.frame,
      keep: this.keep,
      scope: choices().scope,
    };
    if (magnetic && near.far <= reach) {
      lit.station = near.name;
      this.send([{ ...base, to: { station: near.name } }]);
      return;
    }
    if (magnetic && distance(this.centre, point) <= reach) {
      lit.guides = { x: this.centre[0], y: this.centre[1] };
      this.send([{ ...base, to: { scene: this.centre } }]);
      return;
    }
    this.send([{ ...base, to: { scene: point } }]);
  }
}

/** Drag layers: whole pixels, magnetic to the scene's centre lines and edges, one axis with Shift. */
export class LayerDrag extends Sending {
  private readonly start: Point;
  private readonly frame: number;
  private readonly corners: Point[];

  constructor(
    session: Session,
    private readonly layers: string[],
    private readonly view: View,
    start: Point,
    private readonly size: Point,
  ) {
    super(session);
    this.start = toScene(view, start);
    this.frame = session.frames.frame;
    const arrays = session.frames.layer(layers[0]);
    this.corners = arrays
      ? [...Object.values(STATIONS).map((at) => stationAt(arrays, this.frame, at)), anchorAt(arrays, this.frame)]
      : [];
  }

  move(screen: Point, keys: { free: boolean; straight: boolean }) {
    const [x, y] = toScene(this.view, screen);
    const by: Point = [Math.round(x - this.start[0]), Math.round(y - this.start[1])];
    if (keys.straight) by[Math.abs(by[0]) < Math.abs(by[1]) ? 0 : 1] = 0;
    lit.guides = {};
    if (choices().magnet && !keys.free) this.pull(by, keys.straight);
    this.send([{ edit: "move_layers", layers: this.layers, frame: this.frame, by }]);
  }

  private pull(by: Point, straight: boolean) {
    const reach = SNAP / 2 / this.view.scale;
    for (const axis of [0, 1] as const) {
      if (straight && by[axis] === 0) continue;
      let best = reach;
      let step = 0;
      for (const goal of [0, this.size[axis] / 2, this.size[axis]]) {
        for (const corner of this.corners) {
          const away = goal - (corner[axis] + by[axis]);
          if (Math.abs(away) < best) {
            best = Math.abs(away);
            step = away;
            lit.guides[axis === 0 ? "x" : "y"] = goal;
          }
        }
      }
      by[axis] += step;
    }
  }
}
