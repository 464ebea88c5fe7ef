import { useLayoutEffect, useRef } from "react";
import { row } from "../api/arrays";
import { useChoices } from "../scene/choices";
import { useSession } from "../scene/session";
import { roleColour } from "../theme/theme";
import { lit } from "./gestures";
import { anchorAt, type Point, placeName, STATIONS, stationAt, throughMatrix, toScreen, type View } from "./view";

const CORNERS: Point[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/** What lies over the picture: boxes, stations, guides and the anchor's mark, redrawn with the frame store. */
export function Overlay({ view, size, room }: { view: View; size: Point; room: Point }) {
  const session = useSession();
  const selected = useChoices((state) => state.selected);
  const svg = useRef<SVGSVGElement>(null);

  useLayoutEffect(() => {
    const root = svg.current!;
    const boxes = [...root.querySelectorAll<SVGPolygonElement>("[data-box]")];
    const mark = root.querySelector<SVGGElement>("[data-testid=anchor-mark]");
    const label = root.querySelector<SVGGElement>("[data-testid=anchor-label]");
    const stations = root.querySelector<SVGGElement>("[data-stations]")!;
    const guides = root.querySelector<SVGPathElement>("[data-guides]")!;

    const draw = () => {
      const { frames } = session;
      const frame = frames.frame;
      for (const box of boxes) {
        const arrays = frames.layer(box.dataset.box!);
        const there = arrays && row(arrays, arrays.visible, frame)[0] > 0;
        box.style.display = there ? "" : "none";
        if (!arrays) continue;
        box.setAttribute(
          "points",
          CORNERS.map((at) =>
            toScreen(view, stationAt(arrays, frame, at))
              .map((n) => n.toFixed(2))
              .join(),
          ).join(" "),
        );
      }
      const one = selected.length === 1 ? frames.layer(selected[0]) : undefined;
      if (mark && label) {
        mark.style.display = label.style.display = stations.style.display = one ? "" : "none";
      }
      if (one && mark && label) {
        const anchor = anchorAt(one, frame);
        const [x, y] = toScreen(view, anchor);
        mark.setAttribute("transform", `translate(${x.toFixed(2)} ${y.toFixed(2)})`);
        mark.dataset.scene = anchor.map((n) => n.toFixed(3)).join();
        const [fx, fy] = row(one, one.fraction, frame);
        const text = label.querySelector("text")!;
        text.textContent = `${placeName(fx, fy)} · ${tidy(anchor[0])}, ${tidy(anchor[1])} px`;
        const width = text.getComputedTextLength() + 18;
        label.querySelector("rect")!.setAttribute("width", `${width}`);
        const lx = Math.min(Math.max(x - 12, 4), room[0] - width - 4);
        const ly = y + 52 > room[1] ? y - 48 : y + 28;
        label.setAttribute("transform", `translate(${lx.toFixed(1)} ${ly.toFixed(1)})`);
        for (const dot of stations.children) {
          const name = (dot as SVGElement).dataset.station!;
          const [left, top, w, h] = row(one, one.box, frame);
          const [sx, sy] = STATIONS[name];
          const [px, py] = toScreen(view, throughMatrix(one, frame, [left + sx * w, top + sy * h]));
          dot.setAttribute("cx", px.toFixed(2));
          dot.setAttribute("cy", py.toFixed(2));
          const on = lit.station === name;
          dot.setAttribute("r", on ? "19" : lit.anchor ? "5" : "3");
          dot.setAttribute("fill", roleColour("markHalo"));
          dot.setAttribute("fill-opacity", on ? "0.55" : "1");
          (dot as SVGElement).dataset.lit = on ? "yes" : "";
        }
      }
      const lines: string[] = [];
      if (lit.guides.x !== undefined) {
        const [gx] = toScreen(view, [lit.guides.x, 0]);
        lines.push(`M${gx} ${view.y}V${view.y + size[1] * view.scale}`);
      }
      if (lit.guides.y !== undefined) {
        const [, gy] = toScreen(view, [0, lit.guides.y]);
        lines.push(`M${view.x} ${gy}H${view.x + size[0] * view.scale}`);
      }
      guides.setAttribute("d", lines.join(""));
    };
    draw();
    return session.frames.subscribe(draw);
  }, [session, selected, view, size, room]);

  return (
    <svg
      ref={svg}
      width="100%"
      height="100%"
      style={{ position: "absolute", inset: 0, pointerEvents: "none", overflow: "hidden" }}
      aria-hidden
    >
      <path data-guides="" stroke={roleColour("act")} strokeWidth="1" strokeDasharray="5 3" fill="none" />
      {selected.map((id) => (
        <g key={id}>
          <polygon
            data-box={id}
            data-testid="box"
            fill="none"
            stroke={roleColour("markHalo")}
            strokeOpacity="0.85"
            strokeWidth="3"
          />
          <polygon data-box={id} fill="none" stroke={roleColour("anchorInk")} strokeWidth="1.25" />
        </g>
      ))}
      <g data-stations="">
        {Object.keys(STATIONS).map((name) => (
          <circle
            key={name}
            data-station={name}
            stroke={roleColour("anchorInk")}
            strokeWidth="1.5"
            fill={roleColour("markHalo")}
            r="3"
          />
        ))}
      </g>
      {selected.length === 1 && (
        <>
          <g data-testid="anchor-mark">
            <g fill="none" strokeLinecap="round">
              <g stroke={roleColour("markHalo")} strokeWidth="6.5">
                <MarkLines />
              </g>
              <g stroke={roleColour("markLine")} strokeWidth="4.4">
                <MarkLines />
              </g>
              <g stroke={roleColour("markCoral")} strokeWidth="2.6">
                <MarkLines />
              </g>
            </g>
            <circle r="3.6" fill={roleColour("markHalo")} stroke={roleColour("markLine")} strokeWidth="1" />
            <circle r="2" fill={roleColour("markCoral")} />
          </g>
          <g data-testid="anchor-label">
            <rect height="20" rx="10" fill={roleColour("well")} stroke={roleColour("edge")} />
            <text x="9" y="14" style={{ fontSize: 11.5, fontWeight: 650 }} fill={roleColour("ink")} />
          </g>
        </>
      )}
    </svg>
  );
}

/** The mark: a ring on four short fins, set diagonally, so that it is never taken for a box's handle. */
function MarkLines() {
  return (
    <>
      <circle r="9" />
      <path d="M7 -7L12 -12M7 7L12 12M-7 7L-12 12M-7 -7L-12 -12" />
    </>
  );
}

const tidy = (n: number) => String(Math.round(n * 10) / 10);
