import { row } from "../../api/arrays";
import { anchorAt, type Point, throughMatrix, toScene, toScreen, type View } from "../../geometry/layerGeometry";
import type { Session } from "../../session/session";
import { viewSettings } from "../../state/viewSettings";
import { type Keys, lit, Sending } from "./gesture";

/** How near a point is held by a station of the layer or by its anchor, in stage pixels. */
const HOLD = 7;

/** Drag a point of an effect: held by the stations of the layer and by its anchor, unless Ctrl lets go. */
export class EffectPointDrag extends Sending {
  constructor(
    session: Session,
    private readonly layer: string,
    private readonly path: string,
    private readonly view: View,
  ) {
    super(session);
  }

  move(screen: Point, keys: Keys) {
    const { frames } = this.session;
    const arrays = frames.layer(this.layer);
    if (!arrays) return;
    const { frame } = frames;
    const [left, top, width, height] = row(arrays, arrays.box, frame);
    const [a, b, c, d, e, f] = row(arrays, arrays.matrix, frame);
    const det = a * d - b * c;
    if (!det || !width || !height) return;
    const share = ([x, y]: Point): Point => {
      const [dx, dy] = [x - e, y - f];
      const own = [(d * dx - c * dy) / det, (a * dy - b * dx) / det];
      return [((own[0] - left) / width) * 100, ((own[1] - top) / height) * 100];
    };
    let [x, y] = share(toScene(this.view, screen));
    lit.note = "";
    if (!keys.free) {
      const stations: Point[] = [0, 50, 100].flatMap((across) => [0, 50, 100].map((down): Point => [across, down]));
      const places = [
        ...stations.map((at) => ({ at, what: "station" })),
        { at: share(anchorAt(arrays, frame)), what: "anchor" },
      ];
      for (const { at, what } of places) {
        const there = throughMatrix(arrays, frame, [left + (at[0] / 100) * width, top + (at[1] / 100) * height]);
        const [sx, sy] = toScreen(this.view, there);
        if (Math.hypot(sx - screen[0], sy - screen[1]) <= HOLD) {
          [x, y] = at;
          lit.note = what === "anchor" ? "at the anchor" : "at a station";
        }
      }
    }
    // Guides hold each axis by itself.
    if (!keys.free && !lit.note) {
      const seen = toScene(this.view, screen);
      const { guides } = viewSettings();
      const near = (list: number[], at: number) => list.find((one) => Math.abs(one - at) * this.view.scale <= HOLD);
      const [gx, gy] = [near(guides.x, seen[0]), near(guides.y, seen[1])];
      if (gx !== undefined || gy !== undefined) {
        [x, y] = share([gx ?? seen[0], gy ?? seen[1]]);
        lit.note = "at a guide";
      }
    }
    const value: [number, number] = [Math.round(x * 100) / 100, Math.round(y * 100) / 100];
    this.send({ edit: "set_property", layer: this.layer, property: this.path, frame, value, linked: false });
  }
}
