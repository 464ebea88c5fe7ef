import type { Handle } from "../../studio/gradients";
import { type Point, toScene, type View } from "../../studio/layerGeometry";
import type { Paint } from "../../studio/selection";
import type { Session } from "../../studio/session";
import { type Keys, Sending, tidied } from "./gesture";

/** Drag a handle of a gradient; Shift makes both radii as long. */
export class GradientDrag extends Sending {
  private readonly frame: number;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly paint: Paint,
    private readonly handle: Pick<Handle, "part" | "stop">,
    private readonly view: View,
  ) {
    super(session);
    this.frame = session.frames.frame;
  }

  move(screen: Point, keys: Keys) {
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
}
