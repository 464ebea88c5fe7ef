import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Edit, Layer } from "../api/client";
import type { Point } from "../geometry/layerGeometry";
import { Painter } from "../paint/painter";
import { follow } from "../parts/press";
import { useSession } from "../session/session";
import { inkOf } from "../theme/canvasColours";
import { roleColour } from "../theme/theme";

const PAD: Point = [132, 84];
/** How much of the pad the window takes. */
const SHARE = 0.62;

/** The content of a layer in small, and the window that it is seen through: dragged, the content moves behind that. */
export function FramingPad({ layer }: { layer: Layer }) {
  const session = useSession();
  const canvas = useRef<HTMLCanvasElement>(null);
  /** Scene pixels to those of the pad. */
  const scale = useRef(1);

  useEffect(() => {
    const painter = new Painter(session.pictures, session.frames.outlines);
    const paint = () => {
      const arrays = session.frames.layer(layer.id!);
      const on = canvas.current;
      if (!arrays || !on) return;
      const { frame } = session.frames;
      // The window takes the middle of the pad, so that it stays while the content moves.
      const corners = cornersOf(arrays.box, arrays.matrix);
      const along = (axis: 0 | 1) => corners.map((at) => at[axis]);
      const [left, top] = [Math.min(...along(0)), Math.min(...along(1))];
      const [wide, tall] = [Math.max(...along(0)) - left, Math.max(...along(1)) - top];
      const k = Math.min((PAD[0] * SHARE) / Math.max(wide, 1), (PAD[1] * SHARE) / Math.max(tall, 1));
      scale.current = k;
      const x = (PAD[0] - wide * k) / 2 - left * k;
      const y = (PAD[1] - tall * k) / 2 - top * k;
      on.width = PAD[0] * devicePixelRatio;
      on.height = PAD[1] * devicePixelRatio;
      const pen = on.getContext("2d")!;
      const place = [k, 0, 0, k, x, y].map((n) => n * devicePixelRatio) as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      const bare = { ...arrays, group: { ...arrays.group, masks: [], matte: null } };
      painter.clear(pen);
      painter.ghost(pen, bare, frame, place);
      // What lies outside of the window is seen faintly.
      const window = new Path2D();
      for (const [at, [px, py]] of cornersOf(arrays.box, arrays.matrix).entries())
        window[at ? "lineTo" : "moveTo"](px * k + x, py * k + y);
      window.closePath();
      pen.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
      const outside = new Path2D();
      outside.rect(0, 0, ...PAD);
      outside.addPath(window);
      pen.globalAlpha = 0.6;
      pen.fillStyle = inkOf("panel");
      pen.fill(outside, "evenodd");
      pen.globalAlpha = 1;
      pen.lineWidth = 2;
      pen.strokeStyle = inkOf("act");
      pen.stroke(window);

      function cornersOf(box: number, matrix: number): Point[] {
        const [bx, by, w, h] = row(arrays!, box, frame);
        const [a, b, c, d, e, f] = row(arrays!, matrix, frame);
        const ends: Point[] = [
          [bx, by],
          [bx + w, by],
          [bx + w, by + h],
          [bx, by + h],
        ];
        return ends.map(([px, py]) => [a * px + c * py + e, b * px + d * py + f]);
      }
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  }, [session, layer]);

  return (
    <canvas
      ref={canvas}
      aria-label="The content behind its window"
      data-testid="framing-pad"
      style={{
        width: PAD[0],
        height: PAD[1],
        background: roleColour("panel"),
        border: `1px solid ${roleColour("edge")}`,
        borderRadius: 10,
        touchAction: "none",
        cursor: "move",
        margin: "4px 0",
      }}
      onPointerDown={(event) => {
        if (layer.locked || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const [sx, sy] = [event.clientX, event.clientY];
        const { frame } = session.frames;
        let last: Edit | null = null;
        follow({
          move: (moved) => {
            const by = [moved.clientX - sx, moved.clientY - sy].map((n) => Math.round(n / scale.current));
            last = { edit: "move_content", layer: layer.id!, frame, by: by as Point };
            session.try([last]);
          },
          end: () => (last ? void session.edit(last) : session.cancel()),
          cancel: () => session.cancel(),
        });
      }}
    />
  );
}
