import { row } from "../../api/arrays";
import { cascadesOf } from "../../document/contents";
import { type Point, toScene, type View } from "../../geometry/layerGeometry";
import { cascadeEdits } from "../../session/cascades";
import type { Session } from "../../session/session";
import { setCascade } from "../../state/cascades";
import { type Keys, Sending } from "./gesture";

/** Drag the anchor of a unit, and with it those of all: nothing moves that is at rest. Shift keeps to one axis. */
export class UnitAnchorDrag extends Sending {
  private readonly start: Point;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly index: number,
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    this.start = toScene(view, start);
  }

  move(screen: Point, keys: Keys) {
    const arrays = this.session.frames.layer(this.layer);
    const layer = this.session.layer(this.layer);
    const cascade = layer && cascadesOf(layer.content)[this.index];
    if (!arrays || !cascade) return;
    const [x, y] = toScene(this.view, screen);
    const [a, b, c, d] = row(arrays, arrays.matrix, this.session.frames.frame);
    const det = a * d - b * c;
    if (!det) return;
    const [sx, sy] = [x - this.start[0], y - this.start[1]];
    const by: Point = [(d * sx - c * sy) / det, (a * sy - b * sx) / det];
    if (keys.straight) by[Math.abs(by[0]) < Math.abs(by[1]) ? 0 : 1] = 0;
    const field = cascade.about === "point" ? "point" : "shift";
    const [fromX, fromY] = cascade[field] ?? [0, 0];
    const to: Point = [Math.round((fromX + by[0]) * 10) / 10, Math.round((fromY + by[1]) * 10) / 10];
    setCascade({ dragged: by });
    this.send(...cascadeEdits(this.layer, this.index, { [field]: to }));
  }

  end() {
    super.end();
    // The units come again with the next answer.
    window.setTimeout(() => setCascade({ dragged: [0, 0] }), 400);
  }

  cancel() {
    setCascade({ dragged: [0, 0] });
    super.cancel();
  }
}
