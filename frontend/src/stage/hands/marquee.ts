import { insideOf, within } from "../../document/items";
import { boxInside, type Point, toScreen, type View } from "../../geometry/layerGeometry";
import { pathPoints } from "../../session/drawnPath";
import type { Session } from "../../session/session";
import { select, selection, setSelection } from "../../state/selection";
import { darken, type Gesture, type Keys, lit } from "./gesture";

/** Draw a frame on the empty stage: the layers, or the points of a path, that it touches are selected; Shift adds. */
export class Marquee implements Gesture {
  private readonly before: string[];
  private readonly points: number[];
  private adds = false;

  constructor(
    private readonly session: Session,
    private readonly view: View,
    private readonly start: Point,
  ) {
    this.before = selection().selected;
    this.points = selection().points ?? [];
  }

  move(screen: Point, keys: Keys) {
    this.adds = keys.straight;
    lit.marquee = [this.start, screen];
    const { frames } = this.session;
    const low: Point = [Math.min(this.start[0], screen[0]), Math.min(this.start[1], screen[1])];
    const high: Point = [Math.max(this.start[0], screen[0]), Math.max(this.start[1], screen[1])];
    if (selection().points) {
      const [layer] = selection().selected;
      const found = pathPoints(this.session, layer).flatMap(({ at }, i) => {
        const [x, y] = toScreen(this.view, at);
        return x >= low[0] && x <= high[0] && y >= low[1] && y <= high[1] ? [i] : [];
      });
      setSelection({ points: this.adds ? [...new Set([...this.points, ...found])] : found });
      frames.touch();
      return;
    }
    const parent = this.session.layer(insideOf(this.before));
    const touched = (parent ? within(parent) : [...frames.order].reverse()).filter((id) => {
      const arrays = frames.layer(id);
      if (!arrays || this.session.layer(id)?.locked) return false;
      return boxInside(arrays, frames.frame, (point) => toScreen(this.view, point), low, high);
    });
    const next = this.adds ? [...new Set([...this.before, ...touched])] : touched;
    if (next.join() !== selection().selected.join()) select(...next);
    frames.touch();
  }

  end() {
    darken();
    this.session.frames.touch();
  }

  cancel() {
    if (selection().points) setSelection({ points: this.points });
    else select(...this.before);
    this.end();
  }
}
