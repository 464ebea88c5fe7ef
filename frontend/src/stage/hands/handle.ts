import { commonBox, type Point, STATIONS, stationAt, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { habits } from "../../state/habits";
import { type Keys, lit, Sending, tidied } from "./gesture";
import { type Magnets, magnetic, magnetsOf, pulled } from "./magnets";

/** Draw a handle: one layer about its anchor, by scale or size; several by their common box. */
export class HandleDrag extends Sending {
  private readonly frame: number;
  private readonly offset: Point;
  private readonly magnets: Magnets;

  constructor(
    session: Session,
    private readonly layers: string[],
    private readonly handle: string,
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    this.frame = session.frames.frame;
    const [x, y] = toScene(view, start);
    const at = STATIONS[handle];
    const arrays = layers.map((id) => session.frames.layer(id)!);
    const [left, top, right, bottom] = commonBox(arrays, this.frame);
    const point: Point =
      layers.length === 1
        ? stationAt(arrays[0], this.frame, at)
        : [left + at[0] * (right - left), top + at[1] * (bottom - top)];
    this.offset = [point[0] - x, point[1] - y];
    this.magnets = magnetsOf(session, this.frame, layers);
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    let to = tidied([x + this.offset[0], y + this.offset[1]], this.view.scale);
    Object.assign(lit, { guides: {}, note: "" });
    if (magnetic(keys)) to = pulled(to, this.magnets, this.view.scale);
    const base = { frame: this.frame, handle: this.handle, to, proportional: keys.straight };
    if (this.layers.length === 1)
      this.send({ edit: "drag_handle", layer: this.layers[0], by: habits().handleBy, ...base });
    else this.send({ edit: "scale_layers", layers: this.layers, about: habits().about, ...base });
  }
}
