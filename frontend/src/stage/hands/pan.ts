import type { Point } from "../../geometry/layerGeometry";
import type { Gesture } from "./gesture";

/** Drag the view itself. */
export class PanDrag implements Gesture {
  constructor(
    private readonly start: Point,
    private readonly from: Point,
    private readonly scale: number,
    private readonly set: (centre: Point) => void,
  ) {}

  move([x, y]: Point) {
    this.set([this.from[0] - (x - this.start[0]) / this.scale, this.from[1] - (y - this.start[1]) / this.scale]);
  }

  end() {}

  cancel() {
    this.set(this.from);
  }
}
