import { anchorAt, type Point, stationsOf, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { type Keys, lit, Sending } from "./gesture";
import { type Magnets, magnetic, magnetsOf, pulledAlong } from "./magnets";

/** Drag layers: whole pixels, snapped to lines and to other layers, one axis with Shift. */
export class LayerDrag extends Sending {
  private readonly start: Point;
  private readonly frame: number;
  private readonly corners: Point[];
  private readonly magnets: Magnets;

  constructor(
    session: Session,
    private readonly layers: string[],
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    this.start = toScene(view, start);
    this.frame = session.frames.frame;
    this.magnets = magnetsOf(session, this.frame, layers);
    this.corners = layers.slice(0, 8).flatMap((id) => {
      const arrays = session.frames.layer(id);
      return arrays ? [...Object.values(stationsOf(arrays, this.frame)), anchorAt(arrays, this.frame)] : [];
    });
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    const by: Point = [Math.round(x - this.start[0]), Math.round(y - this.start[1])];
    if (keys.straight) by[Math.abs(by[0]) < Math.abs(by[1]) ? 0 : 1] = 0;
    Object.assign(lit, { guides: {}, note: "" });
    if (magnetic(keys)) {
      for (const axis of [0, 1] as const) {
        if (keys.straight && by[axis] === 0) continue;
        const places = this.corners.map((corner) => corner[axis] + by[axis]);
        by[axis] += pulledAlong(axis, places, this.magnets.all, this.view.scale);
      }
    }
    this.send({ edit: "move_layers", layers: this.layers, frame: this.frame, by });
  }
}
