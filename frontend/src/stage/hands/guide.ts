import { type Point, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { setViewSettings, viewSettings } from "../../state/viewSettings";
import { darken, type Gesture, lit } from "./gesture";

export const RULER = 18;

/** Drag a guide out of a ruler, or one that is there; back on the ruler it goes. */
export class GuideDrag implements Gesture {
  private readonly before: number[];
  private readonly place: number;
  private at: number | null = null;

  constructor(
    private readonly session: Session,
    private readonly axis: "x" | "y",
    place: number | null,
    private readonly view: View,
  ) {
    this.before = viewSettings().guides[axis];
    this.place = place ?? this.before.length;
  }

  move(screen: Point) {
    const index = this.axis === "x" ? 0 : 1;
    this.at = screen[index] < RULER ? null : Math.round(toScene(this.view, screen)[index]);
    lit.note = this.at === null ? "Let go to take the guide away" : `Guide at ${this.axis} ${this.at} px`;
    this.show(this.at);
  }

  private show(at: number | null) {
    const others = this.before.filter((_, i) => i !== this.place);
    const guides = at === null ? others : [...others.slice(0, this.place), at, ...others.slice(this.place)];
    setViewSettings({ guides: { ...viewSettings().guides, [this.axis]: guides } });
    this.session.frames.touch();
  }

  end() {
    darken();
    this.session.frames.touch();
  }

  cancel() {
    darken();
    setViewSettings({ guides: { ...viewSettings().guides, [this.axis]: this.before } });
    this.session.frames.touch();
  }
}
