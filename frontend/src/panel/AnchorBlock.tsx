import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Edit, Layer } from "../api/client";
import { NumberField } from "../parts/NumberField";
import { Select } from "../parts/Select";
import { choices, choose, type Scope, useChoices } from "../scene/choices";
import { tracksOf } from "../scene/document";
import { useSession } from "../scene/session";
import { type Point, STATIONS } from "../stage/view";
import { roleColour } from "../theme/theme";
import { KeySteps, Pebble } from "./Keying";

const PAD: Point = [132, 92];
const ROOM = 24;

/** The anchor, first in the panel: the box with its nine stations, the numbers, and what stays put. */
export function AnchorBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const keep = useChoices((state) => state.keep);
  const unit = useChoices((state) => state.anchorUnit);

  const arrays = () => session.frames.layer(layer.id!);
  const read = (part: 0 | 1) => () => {
    const now = arrays();
    if (!now) return null;
    const { frame } = session.frames;
    return unit === "%" ? row(now, now.fraction, frame)[part] * 100 : row(now, now.anchor, frame)[part];
  };
  const change = (part: 0 | 1, value: number): Edit => {
    const pair: [number | null, number | null] = [null, null];
    pair[part] = unit === "%" ? value / 100 : value;
    const to = unit === "%" ? { fraction: pair } : { content: pair };
    return { edit: "move_anchor", layer: layer.id!, frame: session.frames.frame, keep, scope: choices().scope, to };
  };

  return (
    <Box>
      <Flex gap="2.5">
        <AnchorPad layer={layer} />
        <Box flex="1" minWidth="0">
          <Flex align="center" gap="1.5" mb="1">
            <Pebble layer={layer} name="anchor" label="Anchor" track={layer.anchor!} tone="anchor" />
            <Text fontWeight={700} color="anchorInk">
              Anchor
            </Text>
            <Box flex="1" />
            <KeySteps layer={layer} name="anchor" label="Anchor" track={layer.anchor!} />
          </Flex>
          {(["x", "y"] as const).map((part, index) => (
            <Box key={part} mb="1">
              <NumberField
                label={`Anchor ${part}`}
                unit={`${unit} ${part}`}
                width="100%"
                step={1}
                disabled={layer.locked}
                read={read(index as 0 | 1)}
                attempt={(value) => session.try([change(index as 0 | 1, value)])}
                keep={(value) => void session.edit(change(index as 0 | 1, value))}
              />
            </Box>
          ))}
          <Flex justify="space-between" fontSize="11px" color="quiet">
            <Text>{layer.anchor!.pinned ? "pinned to the box" : "fixed in the layer"}</Text>
            <chakra.button
              type="button"
              cursor="pointer"
              textDecoration="underline"
              onClick={() => choose({ anchorUnit: unit === "%" ? "px" : "%" })}
            >
              {unit === "%" ? "in px" : "in %"}
            </chakra.button>
          </Flex>
        </Box>
      </Flex>
      <KeepChoice />
      {moves(layer) && keep === "picture" && <ScopeChoice />}
    </Box>
  );
}

/** Whether the layer's position is keyed, so that it matters when the picture stays put. */
const moves = (layer: Layer) =>
  Object.entries(tracksOf(layer)).some(([name, track]) => name.startsWith("position") && track.keys?.length);

const SCOPES: [Scope, string][] = [
  ["frame", "at this frame: the whole path is shifted"],
  ["every key", "at every key of the position"],
  ["throughout", "throughout: at every frame"],
];

/** On a layer in motion: when the picture stays put. */
function ScopeChoice() {
  const scope = useChoices((state) => state.scope);
  return (
    <Flex mt="1.5">
      <Select
        label="When the picture stays put"
        value={scope}
        options={SCOPES}
        onChange={(value) => choose({ scope: value as Scope })}
      />
    </Flex>
  );
}

/** What stays where it is while the anchor moves. */
function KeepChoice() {
  const keep = useChoices((state) => state.keep);
  return (
    <Flex
      role="radiogroup"
      aria-label="What stays put while the anchor moves"
      mt="2"
      borderWidth="1px"
      borderColor="edge"
      borderRadius="9px"
      overflow="hidden"
    >
      {(["picture", "anchor"] as const).map((choice) => (
        <chakra.button
          key={choice}
          type="button"
          role="radio"
          aria-checked={keep === choice}
          flex="1"
          height="25px"
          fontSize="12px"
          fontWeight={600}
          cursor="pointer"
          bg={keep === choice ? "anchorInk" : "well"}
          color={keep === choice ? "actInk" : "quiet"}
          onClick={() => choose({ keep: choice })}
          _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "-2px" }}
        >
          {choice === "picture" ? "Picture stays put" : "Anchor stays put"}
        </chakra.button>
      ))}
    </Flex>
  );
}

/** The layer's box in small, its nine stations as buttons, and the mark that can be dragged anywhere. */
function AnchorPad({ layer }: { layer: Layer }) {
  const session = useSession();
  const svg = useRef<SVGSVGElement>(null);
  const dragging = useRef(false);
  const keep = useChoices((state) => state.keep);

  const frameOf = (): { origin: Point; size: Point } => {
    const arrays = session.frames.layer(layer.id!);
    const [, , w, h] = arrays ? row(arrays, arrays.box, session.frames.frame) : [0, 0, 1, 1];
    const k = Math.min((PAD[0] - 2 * ROOM) / Math.max(w, 1e-6), (PAD[1] - 2 * ROOM) / Math.max(h, 1e-6));
    const size: Point = [Math.max(w * k, 36), Math.max(h * k, 30)];
    return { origin: [(PAD[0] - size[0]) / 2, (PAD[1] - size[1]) / 2], size };
  };

  useEffect(() => {
    const paint = () => {
      const arrays = session.frames.layer(layer.id!);
      if (!arrays) return;
      const { origin, size } = frameOf();
      const root = svg.current!;
      const rect = root.querySelector("rect")!;
      rect.setAttribute("x", `${origin[0]}`);
      rect.setAttribute("y", `${origin[1]}`);
      rect.setAttribute("width", `${size[0]}`);
      rect.setAttribute("height", `${size[1]}`);
      const [fx, fy] = row(arrays, arrays.fraction, session.frames.frame);
      for (const dot of root.querySelectorAll<SVGCircleElement>("[data-station]")) {
        const [sx, sy] = STATIONS[dot.dataset.station!];
        dot.setAttribute("cx", `${origin[0] + sx * size[0]}`);
        dot.setAttribute("cy", `${origin[1] + sy * size[1]}`);
        const on = Math.abs(sx - fx) < 1e-4 && Math.abs(sy - fy) < 1e-4;
        dot.ariaChecked = on ? "true" : "false";
      }
      const mark = root.querySelector("[data-mark]")!;
      const at = [origin[0] + fx * size[0], origin[1] + fy * size[1]];
      const clamp = (n: number, most: number) => Math.min(Math.max(n, 8), most - 8);
      mark.setAttribute("transform", `translate(${clamp(at[0], PAD[0])} ${clamp(at[1], PAD[1])})`);
    };
    paint();
    return session.frames.subscribe(paint);
  });

  const station = (name: string): Edit => ({
    edit: "move_anchor",
    layer: layer.id!,
    frame: session.frames.frame,
    keep,
    scope: choices().scope,
    to: { station: name },
  });

  const fractionAt = (event: React.PointerEvent): Edit => {
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
      scope: choices().scope,
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
        if (layer.locked) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        dragging.current = true;
        session.try([fractionAt(event)]);
      }}
      onPointerMove={(event) => dragging.current && session.try([fractionAt(event)])}
      onPointerUp={(event) => {
        if (dragging.current) void session.edit(fractionAt(event));
        dragging.current = false;
      }}
      onPointerCancel={() => {
        dragging.current = false;
        session.cancel();
      }}
    >
      <rect fill={roleColour("actWash")} stroke={roleColour("quiet")} rx="3" />
      {Object.keys(STATIONS).map((name) => (
        <circle
          key={name}
          data-station={name}
          role="radio"
          aria-label={name}
          tabIndex={0}
          r="4"
          fill={roleColour("well")}
          stroke={roleColour("anchorInk")}
          strokeWidth="1.6"
          onKeyDown={(event) => walk(event, name)}
        />
      ))}
      <g data-mark="" pointerEvents="none">
        <circle r="6" fill={roleColour("anchor")} stroke={roleColour("well")} strokeWidth="1.5" />
      </g>
    </svg>
  );
}
