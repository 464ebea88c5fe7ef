import { type Point, toScene, toScreen, type View } from "../../geometry/layerGeometry";
import { gradientOf, type Handle, handlesOf } from "../../session/gradients";
import type { Session } from "../../session/session";
import type { Paint } from "../../state/selection";
import { type Keys, Sending, tidied } from "./gesture";

/** How far from its gradient a stop is dragged to let go of it, in pixels. */
const OFF = 40;

/** How far a place is from a straight piece. */
function toSegment([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const long = dx * dx + dy * dy;
  const share = long ? Math.min(Math.max(((x - ax) * dx + (y - ay) * dy) / long, 0), 1) : 0;
  return Math.hypot(ax + share * dx - x, ay + share * dy - y);
}

/** Drag a handle of a gradient; Shift makes both radii as long. A stop that is dragged off it goes. */
export class GradientDrag extends Sending {
  private readonly frame: number;
  /** Where the gradient lies as the drag begins, in the scene, and how many stops it has. */
  private readonly line: Point[];
  private readonly stops: number;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly paint: Paint,
    private readonly handle: Pick<Handle, "part" | "stop">,
    private readonly view: View,
  ) {
    super(session);
    this.frame = session.frames.frame;
    const gradient = gradientOf(session.layer(layer), paint);
    this.stops = gradient?.stops.length ?? 0;
    this.line = gradient ? handlesOf(session, layer, paint, gradient).line : [];
  }

  move(screen: Point, keys: Keys) {
    const base = { layer: this.layer, paint: this.paint };
    if (this.isOff(screen)) {
      this.send({ edit: "remove_stop", ...base, stop: this.handle.stop });
      return;
    }
    const to = tidied(toScene(this.view, screen), this.view.scale);
    this.send({
      edit: "aim_gradient",
      layer: this.layer,
      frame: this.frame,
      paint: this.paint,
      part: this.handle.part,
      stop: this.handle.stop,
      to,
      round: keys.straight,
    });
  }

  /** Whether a stop that could go is dragged so far from its gradient that it is let go of. */
  private isOff(screen: Point): boolean {
    if (this.handle.part !== "stop" || this.line.length < 2 || this.stops <= 2) return false;
    const ends = this.line.map((at) => toScreen(this.view, at));
    return ends.slice(1).every((end, i) => toSegment(screen, ends[i], end) > OFF);
  }
}
