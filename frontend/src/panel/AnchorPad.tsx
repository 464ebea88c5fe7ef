import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Edit, Layer } from "../api/client";
import { type Point, STATIONS } from "../geometry/layerGeometry";
import { follow } from "../parts/press";
import { useSession } from "../session/session";
import { tools, useTools } from "../state/tools";
import { roleColour } from "../theme/theme";

type Place = Pick<PointerEvent, "clientX" | "clientY" | "ctrlKey" | "metaKey">;

const PAD: Point = [126, 64];
const ROOM = 14;

/** The layer's box in small, its nine stations as buttons, and the mark that can be dragged anywhere. */
export function AnchorPad({ layer }: { layer: Layer }) {
  const session = useSession();
  const svg = useRef<SVGSVGElement>(null);
  const keep = useTools((state) => state.keep);

  const frameOf = (): { origin: Point; size: Point } => {
    const arrays = session.frames.layer(layer.id!);
    const [, , w, h] = arrays ? row(arrays, arrays.box, session.frames.frame) : [0, 0, 1, 1];
    const k = Math.min((PAD[0] - 2 * ROOM) / Math.max(w, 1e-6), (PAD[1] - 2 * ROOM) / Math.max(h, 1e-6));
    const size: Point = [Math.max(w * k, 36), Math.max(h * k, 30)];
    return { origin: [(PAD[0] - size[0]) / 2, (PAD[1] - size[1]) / 2], size };
  };

  useEffect(() => {
    let last = "";
    const paint = () => {
      const arrays = session.frames.layer(layer.id!);
      if (!arrays) return;
      const { origin, size } = frameOf();
      const [fx, fy] = row(arrays, arrays.fraction, session.frames.frame);
      const now = [...origin, ...size, fx, fy].join();
      if (now === last) return;
      last = now;
      const root = svg.current!;
      const rect = root.querySelector("rect")!;
      rect.setAttribute("x", `${origin[0]}`);
      rect.setAttribute("y", `${origin[1]}`);
      rect.setAttribute("width", `${size[0]}`);
      rect.setAttribute("height", `${size[1]}`);
      for (const dot of root.querySelectorAll<SVGCircleElement>("[data-station]")) {
        const [sx, sy] = STATIONS[dot.dataset.station!];
        dot.setAttribute("cx", `${origin[0] + sx * size[0]}`);
        dot.setAttribute("cy", `${origin[1] + sy * size[1]}`);
        const on = Math.abs(sx - fx) < 1e-4 && Math.abs(sy - fy) < 1e-4;
        dot.ariaChecked = on ? "true" : "false";
        if (on) stop(dot.dataset.station!);
      }
      const mark = root.querySelector("[data-mark]")!;
      const at = [origin[0] + fx * size[0], origin[1] + fy * size[1]];
      const clamp = (n: number, most: number) => Math.min(Math.max(n, 8), most - 8);
      mark.setAttribute("transform", `translate(${clamp(at[0], PAD[0])} ${clamp(at[1], PAD[1])})`);
    };
    paint();
    return session.frames.subscribe(paint);
  });

  /** Tab stops once in the pad: at the station that was focused or chosen last. */
  const stop = (name: string) => {
    for (const dot of svg.current!.querySelectorAll<SVGElement>("[data-station]"))
      dot.setAttribute("tabindex", dot.dataset.station === name ? "0" : "-1");
  };

  const station = (name: string): Edit => ({
    edit: "move_anchor",
    layer: layer.id!,
    frame: session.frames.frame,
    keep,
    scope: tools().scope,
    to: { station: name },
  });

  const fractionAt = (event: Place): Edit => {
    const box = svg.current!.getBoundingClientRect();
    const { origin, size } = frameOf();
    const at = [event.clientX - box.left, event.clientY - box.top];
    const near = Object.entries(STATIONS).find(
      ([, [sx, sy]]) => Math.hypot(origin[0] + sx * size[0] - at[0], origin[1] + sy * size[1] - at[1]) < 7,
    );
    if (near && !event.ctrlKey && !event.metaKey) return station(near[0]);
    const fraction: [number, number] = [
      Math.round(((at[0] - origin[0]) / size[0]) * 1000) / 1000,
      Math.round(((at[1] - origin[1]) / size[1]) * 1000) / 1000,
    ];
    return {
      edit: "move_anchor",
      layer: layer.id!,
      frame: session.frames.frame,
      keep,
      scope: tools().scope,
      to: { fraction },
    };
  };

  const steps: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const walk = (event: React.KeyboardEvent<SVGElement>, name: string) => {
    const step = steps[event.key];
    if (event.key === "Enter" || event.key === " ") void session.edit(station(name));
    else if (step) {
      const [x, y] = STATIONS[name];
      const next: Point = [x + step[0] / 2, y + step[1] / 2];
      const goal = Object.entries(STATIONS).find(([, at]) => at[0] === next[0] && at[1] === next[1])?.[0];
      svg.current!.querySelector<SVGElement>(`[data-station="${goal}"]`)?.focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <svg
      ref={svg}
      width={PAD[0]}
      height={PAD[1]}
      role="radiogroup"
      aria-label="Stations of the box"
      data-testid="anchor-pad"
      style={{
        background: roleColour("panel"),
        border: `1px solid ${roleColour("edge")}`,
        borderRadius: 10,
        flex: "none",
        touchAction: "none",
        cursor: "crosshair",
      }}
      onPointerDown={(event) => {
        if (layer.locked || event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        let last = fractionAt(event);
        const hand = (moved: Place) => {
          last = fractionAt(moved);
          session.try([last]);
        };
        hand(event);
        follow({ move: hand, end: () => void session.edit(last), cancel: () => session.cancel() });
      }}
    >
      <rect fill={roleColour("actWash")} stroke={roleColour("quiet")} rx="3" />
      {Object.keys(STATIONS).map((name) => (
        <circle
          key={name}
          data-station={name}
          role="radio"
          aria-label={name}
          tabIndex={name === "centre" ? 0 : -1}
          r="4"
          fill={roleColour("well")}
          stroke={roleColour("anchorInk")}
          strokeWidth="1.6"
          onFocus={() => stop(name)}
          onKeyDown={(event) => walk(event, name)}
        />
      ))}
      <g data-mark="" pointerEvents="none">
        <circle r="6" fill={roleColour("anchor")} stroke={roleColour("well")} strokeWidth="1.5" />
      </g>
    </svg>
  );
}
