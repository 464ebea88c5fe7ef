import { Box, chakra } from "@chakra-ui/react";
import { useLayoutEffect, useRef } from "react";
import { row } from "../api/arrays";
import { choose, useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { useLook } from "../scene/look";
import { useSession } from "../scene/session";
import { roleColour } from "../theme/theme";
import { lit } from "./hands/gesture";
import { handleBox, handlesOf } from "./hits";
import { inMotion, SCOPES } from "./scopes";
import { anchorAt, isThere, type Point, placeName, STATIONS, stationsOf, toScreen, type View } from "./view";

const RING = 15;
const HANDLES = Object.keys(STATIONS).filter((name) => name !== "centre");

/** What can be taken by hand over the picture: boxes, handles, ring, stations, and the anchor's mark. */
export function Overlay({ view, room }: { view: View; room: Point }) {
  const session = useSession();
  useScene();
  const selected = useChoices((state) => state.selected);
  const keep = useChoices((state) => state.keep);
  const showsMark = useLook((state) => state.mark);
  const svg = useRef<SVGSVGElement>(null);
  const scopes = useRef<HTMLDivElement>(null);
  const one = selected.length === 1 ? session.layer(selected[0]) : undefined;

  useLayoutEffect(() => {
    const root = svg.current!;
    const boxes = [...root.querySelectorAll<SVGPolygonElement>("[data-box]")];
    const mark = root.querySelector<SVGGElement>("[data-testid=anchor-mark]");
    const label = root.querySelector<SVGGElement>("[data-testid=anchor-label]");
    const stations = root.querySelector<SVGGElement>("[data-stations]")!;
    const handles = [...root.querySelectorAll<SVGCircleElement>("[data-handle]")];
    const frame = root.querySelector<SVGPolygonElement>("[data-common]")!;
    const ring = root.querySelector<SVGPathElement>("[data-ring]")!;
    const marquee = root.querySelector<SVGRectElement>("[data-testid=marquee]")!;

    const drawBoxes = () => {
      const { frames } = session;
      for (const box of boxes) {
        const arrays = frames.layer(box.dataset.box!);
        box.style.display = arrays ? "" : "none";
        if (!arrays) continue;
        const corners = handleBox(session, [box.dataset.box!], view)!;
        box.setAttribute("points", told(corners));
        const there = isThere(arrays, frames.frame);
        box.setAttribute("stroke-dasharray", there ? "" : "5 4");
        box.dataset.there = there ? "yes" : "";
      }
    };

    const drawHandles = () => {
      const locked = selected.some((id) => session.layer(id)?.locked);
      const corners = selected.length && !locked ? handleBox(session, selected, view) : null;
      const shown = new Map(corners ? handlesOf(corners) : []);
      for (const dot of handles) {
        const at = shown.get(dot.dataset.handle!);
        dot.style.display = at && !lit.anchor ? "" : "none";
        if (!at) continue;
        dot.setAttribute("cx", at[0].toFixed(2));
        dot.setAttribute("cy", at[1].toFixed(2));
      }
      frame.style.display = corners && selected.length > 1 ? "" : "none";
      ring.style.display = corners && lit.ring ? "" : "none";
      if (!corners) return;
      frame.setAttribute("points", told(corners));
      ring.setAttribute("d", ringAround(corners));
    };

    const drawAnchor = () => {
      const { frames } = session;
      const arrays = selected.length === 1 ? frames.layer(selected[0]) : undefined;
      const on = arrays && showsMark;
      if (mark && label) mark.style.display = label.style.display = on ? "" : "none";
      stations.style.display = on && lit.anchor ? "" : "none";
      if (scopes.current) scopes.current.style.display = on ? "" : "none";
      if (!on || !mark || !label) return;
      const anchor = anchorAt(arrays, frames.frame);
      const [x, y] = toScreen(view, anchor);
      mark.setAttribute("transform", `translate(${x.toFixed(2)} ${y.toFixed(2)})`);
      mark.dataset.scene = anchor.map((n) => n.toFixed(3)).join();
      const [fx, fy] = row(arrays, arrays.fraction, frames.frame);
      const text = label.querySelector("text")!;
      const words = `${placeName(fx, fy)} · ${tidy(anchor[0])}, ${tidy(anchor[1])} px`;
      if (text.textContent !== words) text.textContent = words;
      const width = widthOf(words) + 18;
      label.querySelector("rect")!.setAttribute("width", `${width}`);
      const lx = Math.min(Math.max(x - 12, 4), room[0] - width - 4);
      const below = y + (scopes.current ? 76 : 52) <= room[1];
      const ly = below ? y + 28 : y - 48;
      label.setAttribute("transform", `translate(${lx.toFixed(1)} ${ly.toFixed(1)})`);
      if (scopes.current) {
        const at = below ? ly + 23 : ly - 25;
        scopes.current.style.transform = `translate(${Math.min(lx, room[0] - 206).toFixed(1)}px, ${at.toFixed(1)}px)`;
      }
      if (lit.anchor) drawStations(stationsOf(arrays, frames.frame));
    };

    const drawStations = (places: Record<string, Point>) => {
      const names = Object.keys(places);
      while (stations.children.length < names.length) stations.append(station());
      [...stations.children].forEach((dot, i) => {
        const name = names[i];
        (dot as SVGElement).style.display = name ? "" : "none";
        if (!name) return;
        const [px, py] = toScreen(view, places[name]);
        const on = lit.station === name;
        dot.setAttribute("cx", px.toFixed(2));
        dot.setAttribute("cy", py.toFixed(2));
        dot.setAttribute("r", on ? "19" : name in STATIONS ? "5" : "3");
        dot.setAttribute("fill-opacity", on ? "0.55" : "1");
        Object.assign((dot as SVGElement).dataset, { station: name, lit: on ? "yes" : "" });
      });
    };

    const drawMarquee = () => {
      marquee.style.display = lit.marquee ? "" : "none";
      if (!lit.marquee) return;
      const [[ax, ay], [bx, by]] = lit.marquee;
      marquee.setAttribute("x", `${Math.min(ax, bx)}`);
      marquee.setAttribute("y", `${Math.min(ay, by)}`);
      marquee.setAttribute("width", `${Math.abs(ax - bx)}`);
      marquee.setAttribute("height", `${Math.abs(ay - by)}`);
    };

    const draw = () => {
      drawBoxes();
      drawHandles();
      drawAnchor();
      drawMarquee();
    };
    draw();
    return session.frames.subscribe(draw);
  }, [session, selected, view, room, showsMark]);

  return (
    <>
      <svg
        ref={svg}
        width="100%"
        height="100%"
        style={{ position: "absolute", inset: 0, pointerEvents: "none", overflow: "hidden" }}
        aria-hidden
      >
        <path data-ring="" fill="none" stroke={roleColour("anchorInk")} strokeOpacity="0.5" strokeWidth="9" />
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
        <polygon data-common="" fill="none" stroke={roleColour("act")} strokeWidth="1.5" strokeDasharray="6 3" />
        {HANDLES.map((name) => (
          <circle
            key={name}
            data-handle={name}
            r="4.2"
            fill={roleColour("markHalo")}
            stroke={roleColour("anchorInk")}
            strokeWidth="1.6"
          />
        ))}
        <g data-stations="" />
        <rect
          data-testid="marquee"
          fill={roleColour("act")}
          fillOpacity="0.12"
          stroke={roleColour("act")}
          strokeDasharray="4 3"
        />
        {one && (
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
      {one && !one.locked && keep === "picture" && inMotion(one) && (
        <div ref={scopes} style={{ position: "absolute", top: 0, left: 0 }}>
          <ScopeChoice />
        </div>
      )}
    </>
  );
}

/** On a layer in motion, beside the mark: when the picture stays put. */
function ScopeChoice() {
  const scope = useChoices((state) => state.scope);
  return (
    <Box
      role="radiogroup"
      aria-label="When the picture stays put"
      display="flex"
      bg="well"
      borderWidth="1px"
      borderColor="edge"
      borderRadius="full"
      overflow="hidden"
      onPointerDown={(event) => event.stopPropagation()}
    >
      {SCOPES.map(([value, text, title]) => (
        <chakra.button
          key={value}
          type="button"
          role="radio"
          aria-checked={scope === value}
          title={title}
          px="2"
          height="19px"
          fontSize="11px"
          fontWeight={600}
          cursor="pointer"
          bg={scope === value ? "anchorInk" : undefined}
          color={scope === value ? "actInk" : "ink"}
          onClick={() => choose({ scope: value })}
        >
          {text}
        </chakra.button>
      ))}
    </Box>
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

function station(): SVGCircleElement {
  const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
  dot.setAttribute("stroke", roleColour("anchorInk"));
  dot.setAttribute("stroke-width", "1.5");
  dot.setAttribute("fill", roleColour("markHalo"));
  return dot;
}

const told = (points: Point[]) => points.map((point) => point.map((n) => n.toFixed(2)).join()).join(" ");

/** A line around a box at a distance, round at its corners. */
function ringAround(corners: Point[]): string {
  const area = corners.reduce((sum, [ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % 4];
    return sum + ax * by - bx * ay;
  }, 0);
  const way = area >= 0 ? 1 : -1;
  const parts = corners.map(([ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % 4];
    const size = Math.hypot(bx - ax, by - ay) || 1;
    const [nx, ny] = [(way * RING * (by - ay)) / size, (-way * RING * (bx - ax)) / size];
    const join = i ? `A${RING} ${RING} 0 0 ${area >= 0 ? 1 : 0} ` : "M";
    return `${join}${ax + nx} ${ay + ny}L${bx + nx} ${by + ny}`;
  });
  const first = parts[0].slice(1).split("L")[0];
  return `${parts.join("")}A${RING} ${RING} 0 0 ${area >= 0 ? 1 : 0} ${first}`;
}

const measure = document.createElement("canvas").getContext("2d")!;

/** A label's width, measured without a layout. */
function widthOf(words: string): number {
  measure.font = "650 11.5px 'Figtree Variable', sans-serif";
  return measure.measureText(words).width;
}

const tidy = (n: number) => String(Math.round(n * 10) / 10);
