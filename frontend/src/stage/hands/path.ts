import type { Edit } from "../../api/client";
import { stepInto } from "../../document/items";
import { distance, type Point, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { type Keys, lit, Sending, tidied } from "./gesture";
import { type Magnets, magnetic, magnetsOf, pulled } from "./magnets";

/** Drag a key of the position on its path, wherever the playhead is. */
export class PathKeyDrag extends Sending {
  private readonly offset: Point;
  private readonly magnets: Magnets;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly frame: number,
    /** Where it is drawn: at its position, or on the path of a station. */
    private readonly point: Point,
    private readonly position: Point,
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    const [x, y] = toScene(view, start);
    this.offset = [point[0] - x, point[1] - y];
    this.magnets = magnetsOf(session, session.frames.frame, [layer]);
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    let to = tidied([x + this.offset[0], y + this.offset[1]], this.view.scale);
    Object.assign(lit, { guides: {}, note: "" });
    if (keys.straight) {
      const still = Math.abs(to[0] - this.point[0]) < Math.abs(to[1] - this.point[1]) ? 0 : 1;
      to[still] = this.point[still];
    } else if (magnetic(keys)) to = pulled(to, this.magnets, this.view.scale);
    const by = stepInto(this.session.frames, this.layer, this.frame, [to[0] - this.point[0], to[1] - this.point[1]]);
    to = [by[0] + this.position[0], by[1] + this.position[1]];
    const layer = this.session.layer(this.layer);
    if (!layer) return;
    const base = { edit: "set_key" as const, layer: this.layer, frame: this.frame };
    if ("rest" in layer.position!) this.send({ ...base, property: "position", value: to });
    else {
      const local = this.frame - layer.span.start;
      const split = layer.position!;
      const edits = (["x", "y"] as const).flatMap((axis, i): Edit[] =>
        split[axis].keys?.some((key) => Math.abs(key.frame - local) < 1e-6)
          ? [{ ...base, property: `position.${axis}`, value: to[i] }]
          : [],
      );
      if (edits.length) this.send(...edits);
    }
  }
}

/** Drag a handle of a position key; the one opposite turns along, unless Alt is held. */
export class TangentDrag extends Sending {
  constructor(
    session: Session,
    private readonly layer: string,
    private readonly frame: number,
    private readonly side: "leave" | "arrive",
    private readonly key: Point,
    private readonly other: Point | null,
    private readonly view: View,
  ) {
    super(session);
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    const handle = tidied([x - this.key[0], y - this.key[1]], this.view.scale);
    const change: Partial<Record<"leave" | "arrive", Point>> = { [this.side]: handle };
    const size = Math.hypot(...handle);
    if (this.other && !keys.alt && size > 0) {
      const length = distance(this.other, [0, 0]);
      const opposite = this.side === "leave" ? "arrive" : "leave";
      change[opposite] = tidied([(-handle[0] / size) * length, (-handle[1] / size) * length], 2);
    }
    lit.handles = change;
    const own = Object.entries(change).map(([side, at]) => [
      side,
      stepInto(this.session.frames, this.layer, this.frame, at),
    ]);
    this.send({ edit: "set_handles", layer: this.layer, frame: this.frame, ...Object.fromEntries(own) });
  }
}
