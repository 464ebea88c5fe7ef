import { row } from "../../api/arrays";
import { type Point, toScene, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { type Keys, lit, Sending } from "./gesture";

/** Move the content of a layer behind its masks or its crop, which stay: whole pixels, one axis with Shift. */
export class ContentDrag extends Sending {
  private readonly start: Point;
  private readonly frame: number;

  constructor(
    session: Session,
    private readonly layer: string,
    private readonly view: View,
    start: Point,
  ) {
    super(session);
    this.start = toScene(view, start);
    this.frame = session.frames.frame;
  }

  move(screen: Point, keys: Keys) {
    const [x, y] = toScene(this.view, screen);
    const by: Point = [Math.round(x - this.start[0]), Math.round(y - this.start[1])];
    if (keys.straight) by[Math.abs(by[0]) < Math.abs(by[1]) ? 0 : 1] = 0;
    lit.note = FRAMING;
    this.send({ edit: "move_content", layer: this.layer, frame: this.frame, by });
  }
}

/** The note that says where the content lies, as it is drawn. */
export const FRAMING = "framing";

/** Where the content of a layer lies behind its window, in words. */
export function framingWords(session: Session, id: string): string {
  const arrays = session.frames.layer(id);
  const number = (name: string) =>
    arrays && name in arrays.values ? [...row(arrays, arrays.values[name], session.frames.frame)] : null;
  const tidy = (n: number) => String(Math.round(n * 10) / 10).replace("-", "−");
  const offset = number("framing.offset") ?? [0, 0];
  const zoom = number("framing.zoom") ?? [100];
  return `Content behind its window · ${offset.map(tidy).join(", ")} px · ${tidy(zoom[0])} %`;
}
