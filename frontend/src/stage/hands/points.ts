import { type Point, toScene, type View } from "../../geometry/layerGeometry";
import { type PathPoint, pathPoints } from "../../session/drawnPath";
import type { Session } from "../../session/session";
import { type Drawing, selection, setSelection } from "../../state/selection";
import { type Keys, lit, Sending, tidied } from "./gesture";
import { type Magnets, magnetic, magnetsOf, pulled } from "./magnets";

/** Drag points of a path: the one that was taken snaps, the others selected with it go along. */
export class PointsDrag extends Sending {
  private readonly frame: number;
  private readonly from: Point;
  private readonly offset: Point;
  private readonly points: number[];
  private readonly magnets: Magnets;

  constructor(
    session: Session,
    private readonly layer: string,
    point: number,
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    this.frame = session.frames.frame;
    const chosen = selection().points ?? [];
    this.points = chosen.includes(point) ? chosen : [point];
    if (this.points !== chosen) setSelection({ points: this.points });
    this.from = pathPoints(session, layer)[point].at;
    const [x, y] = toScene(view, start);
    this.offset = [this.from[0] - x, this.from[1] - y];
    this.magnets = magnetsOf(session, this.frame, [layer]);
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    let to = tidied([x + this.offset[0], y + this.offset[1]], this.view.scale);
    Object.assign(lit, { guides: {}, note: "" });
    if (keys.straight) {
      const still = Math.abs(to[0] - this.from[0]) < Math.abs(to[1] - this.from[1]) ? 0 : 1;
      to[still] = this.from[still];
    } else if (magnetic(keys)) to = pulled(to, this.magnets, this.view.scale);
    const by: Point = [to[0] - this.from[0], to[1] - this.from[1]];
    this.send({ edit: "move_points", layer: this.layer, frame: this.frame, points: this.points, by });
  }
}

/** Drag a handle of a point; one in line with it stays so, unless Alt is held. */
export class BendDrag extends Sending {
  private readonly frame: number;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly point: number,
    private readonly side: "in" | "out",
    private readonly view: View,
  ) {
    super(session);
    this.frame = session.frames.frame;
  }

  move(screen: Point, keys: Keys) {
    const to = tidied(toScene(this.view, screen), this.view.scale);
    this.send({
      edit: "bend_point",
      layer: this.layer,
      frame: this.frame,
      point: this.point,
      side: this.side,
      to,
      apart: keys.alt,
    });
  }
}

/** The first point of a path that is being drawn, where a click closes it; none while it has but one. */
export function startOf(session: Session, drawing: Drawing | null): PathPoint | undefined {
  const points = drawing?.layer ? pathPoints(session, drawing.layer) : [];
  return points.length > 1 ? points[0] : undefined;
}
