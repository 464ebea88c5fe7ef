import { anchorAt, type Point, stationsOf, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { tools } from "../../state/tools";
import { type Keys, lit, Sending, tidied } from "./gesture";
import { type Magnets, magnetic, magnetsOf, nearest, pulled } from "./magnets";

/**
 * Drag the anchor. Where the picture stays put the mark follows the hand, snapped to the layer's own stations, to other
 * layers and to lines. Where the anchor stays put the picture follows the hand, and its stations snap to the mark.
 */
export class AnchorDrag extends Sending {
  private readonly frame: number;
  private readonly start: Point;
  private readonly anchor: Point;
  private readonly stations: { name: string; at: Point }[];
  private readonly magnets: Magnets;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly view: View,
    start: Point,
    private readonly keep: "picture" | "anchor",
  ) {
    super(session);
    this.frame = session.frames.frame;
    const arrays = session.frames.layer(layer)!;
    this.anchor = anchorAt(arrays, this.frame);
    this.start = toScene(view, start);
    this.stations = Object.entries(stationsOf(arrays, this.frame)).map(([name, at]) => ({ name, at }));
    this.magnets = magnetsOf(session, this.frame, [layer]);
    lit.anchor = true;
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    const way = this.keep === "picture" ? 1 : -1;
    const by: Point = [way * (x - this.start[0]), way * (y - this.start[1])];
    if (keys.straight) by[Math.abs(by[0]) < Math.abs(by[1]) ? 0 : 1] = 0;
    let point = tidied([this.anchor[0] + by[0], this.anchor[1] + by[1]], this.view.scale);
    Object.assign(lit, { station: null, guides: {}, note: "" });
    const base = {
      edit: "move_anchor" as const,
      layer: this.layer,
      frame: this.frame,
      keep: this.keep,
      scope: tools().scope,
    };
    if (magnetic(keys)) {
      const near = nearest(point, this.stations, this.view.scale);
      if (near) {
        lit.station = near.name;
        this.send({ ...base, to: { station: near.name } });
        return;
      }
      if (this.keep === "picture") point = pulled(point, this.magnets, this.view.scale);
    }
    this.send({ ...base, to: { scene: point } });
  }
}
