import { row } from "../../api/arrays";
import { anchorAt, commonBox, type Point, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { habits } from "../../state/habits";
import { type Keys, lit, Sending } from "./gesture";

const STEP = 15;

/** Turn layers by the outer ring; turns are counted past 360°, Shift goes in steps of 15°. */
export class TurnDrag extends Sending {
  private readonly frame: number;
  private readonly middle: Point;
  private readonly from: number;
  private angle: number;
  private turned = 0;

  constructor(
    session: Session,
    private readonly layers: string[],
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    this.frame = session.frames.frame;
    const arrays = layers.map((id) => session.frames.layer(id)!);
    const [left, top, right, bottom] = commonBox(arrays, this.frame);
    this.middle = layers.length === 1 ? anchorAt(arrays[0], this.frame) : [(left + right) / 2, (top + bottom) / 2];
    this.from = layers.length === 1 ? row(arrays[0], arrays[0].values.rotation, this.frame)[0] : 0;
    this.angle = this.at(start);
  }

  private at(screen: Point) {
    const [x, y] = toScene(this.view, screen);
    return (Math.atan2(y - this.middle[1], x - this.middle[0]) * 180) / Math.PI;
  }

  move(screen: Point, keys: Keys) {
    const angle = this.at(screen);
    this.turned += ((((angle - this.angle) % 360) + 540) % 360) - 180;
    this.angle = angle;
    const goal = this.from + this.turned;
    const by = (keys.straight ? Math.round(goal / STEP) * STEP : Math.round(goal * 10) / 10) - this.from;
    lit.note = "turn";
    const about = this.layers.length === 1 ? "own" : habits().about;
    this.send({ edit: "turn_layers", layers: this.layers, frame: this.frame, by, about });
  }
}
