import { RotateCcw } from "lucide-react";
import { useRef, useState } from "react";
import { row } from "../../api/arrays";
import type { Edit, Layer } from "../../api/client";
import type { Point } from "../../geometry/layerGeometry";
import { smoothCurve } from "../../geometry/smoothCurve";
import { IconButton } from "../../parts/IconButton";
import { Box, Flex, Text } from "../../parts/styled";
import { useSession } from "../../session/session";
import { useScene } from "../../session/useScene";
import { roleColour } from "../../theme/theme";

interface Props {
  layer: Layer;
  /** The path of the effect, such as `effects.0`. */
  path: string;
  points: Point[];
  disabled?: boolean;
  /** Tries or keeps the points; none is the straight line. */
  set: (points: Point[], keep: boolean) => void;
}

const SIDE = 150;
/** How near a press takes hold of a point, in pixels. */
const NEAR = 11;
const APART = 0.01;
const MOST = 16;
const STRAIGHT: Point[] = [
  [0, 0],
  [1, 1],
];

type Level = ["black" | "white", 0 | 1];
const LEVELS: [Level, string][] = [
  [["black", 0], "Black in"],
  [["white", 0], "White in"],
  [["black", 1], "Black out"],
  [["white", 1], "White out"],
];

const bound = (value: number, low = 0, high = 1) => Math.min(Math.max(value, low), high);

/**
 * A curve from how light something is, to the right, to how light it is made, up, drawn by hand: a press adds a point,
 * a drag moves one, Delete or a drag off the square takes it away. The handles along the edges are the levels.
 */
export function DrawnCurve({ layer, path, points, disabled, set }: Props) {
  const session = useSession();
  useScene();
  const given = points.length ? points : STRAIGHT;
  const [drawn, setDrawn] = useState<Point[] | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const box = useRef<SVGSVGElement>(null);
  const shown = drawn ?? given;
  const curve = smoothCurve(shown);
  const line = Array.from({ length: 61 }, (_, index) => index / 60)
    .map((x) => `${(x * SIDE).toFixed(1)} ${((1 - bound(curve(x))) * SIDE).toFixed(1)}`)
    .join("L");
  const at = (event: React.PointerEvent): Point => {
    const { left, top, width } = box.current!.getBoundingClientRect();
    const scale = SIDE / width;
    return [((event.clientX - left) * scale) / SIDE, 1 - ((event.clientY - top) * scale) / SIDE];
  };
  const tidy = ([x, y]: Point): Point => [Math.round(x * 1000) / 1000, Math.round(y * 1000) / 1000];

  /** Where a point may be between its neighbours; the first and the last stay in their order. */
  const fitted = (list: Point[], index: number, [x, y]: Point): Point[] => {
    const low = index ? list[index - 1][0] + APART : 0;
    const high = index < list.length - 1 ? list[index + 1][0] - APART : 1;
    return list.with(index, tidy([bound(x, low, Math.max(high, low)), bound(y)]));
  };

  const press = (event: React.PointerEvent) => {
    if (disabled || event.button !== 0) return;
    event.preventDefault();
    box.current!.focus({ preventScroll: true });
    const [x, y] = at(event);
    let list = given;
    let index = list.findIndex(([px, py]) => Math.hypot(px - x, py - y) * SIDE < NEAR);
    if (index < 0) {
      if (list.length >= MOST || x <= 0 || x >= 1) return;
      index = list.findIndex(([px]) => px > x);
      if (index < 0) index = list.length;
      list = [...list.slice(0, index), tidy([x, bound(y)]), ...list.slice(index)];
      list = fitted(list, index, [x, y]);
    }
    setChosen(index);
    const target = event.currentTarget;
    target.setPointerCapture(event.pointerId);
    let now = list;
    const moved = (move: PointerEvent) => {
      const point = at(move as unknown as React.PointerEvent);
      const off = point[0] < -0.15 || point[0] > 1.15 || point[1] < -0.15 || point[1] > 1.15;
      now = off && list.length > 2 ? list.toSpliced(index, 1) : fitted(list, index, point);
      setDrawn(now);
      set(now, false);
    };
    const done = (keep: boolean) => {
      target.removeEventListener("pointermove", moved as EventListener);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", cancel);
      setDrawn(null);
      if (keep) set(now, true);
      else session.cancel();
    };
    const up = () => done(true);
    const cancel = () => done(false);
    target.addEventListener("pointermove", moved as EventListener);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", cancel);
    if (list !== given) {
      setDrawn(list);
      set(list, false);
    }
  };

  const key = (event: React.KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowDown: [0, -1], ArrowUp: [0, 1] }[event.key];
    if (disabled || (!step && !["Delete", "Backspace", "n", "N"].includes(event.key))) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key.toLowerCase() === "n") {
      setChosen(((chosen ?? -1) + (event.shiftKey ? given.length - 1 : 1)) % given.length);
      return;
    }
    if (chosen === null || chosen >= given.length) return;
    if (!step) {
      if (given.length > 2) set(given.toSpliced(chosen, 1), true);
      setChosen(null);
      return;
    }
    const by = (event.shiftKey ? 10 : 1) / 100;
    const [x, y] = given[chosen];
    set(fitted(given, chosen, [x + step[0] * by, y + step[1] * by]), true);
  };

  return (
    <Flex gap="2" my="1" align="flex-start" role="group" aria-label="Drawn curve">
      <Box position="relative" width={`${SIDE + 16}px`} pl="14px" pb="14px">
        <svg
          ref={box}
          width={SIDE}
          height={SIDE}
          viewBox={`0 0 ${SIDE} ${SIDE}`}
          tabIndex={disabled ? -1 : 0}
          role="application"
          aria-label="Curve: press to add a point, N chooses one, arrows move it, Delete takes it away"
          data-testid="drawn-curve"
          data-points={JSON.stringify(shown)}
          style={{
            display: "block",
            background: roleColour("well"),
            border: `1px solid ${roleColour("field")}`,
            borderRadius: 6,
            overflow: "visible",
            touchAction: "none",
            cursor: disabled ? "default" : "crosshair",
          }}
          onPointerDown={press}
          onKeyDown={key}
        >
          <path
            d={`M0 ${SIDE}L${SIDE} 0M0 ${SIDE / 2}h${SIDE}M${SIDE / 2} 0v${SIDE}`}
            stroke={roleColour("edge")}
            fill="none"
          />
          <path d={`M${line}`} stroke={roleColour("act")} strokeWidth="2" fill="none" pointerEvents="none" />
          {shown.map(([x, y], index) => (
            <circle
              key={`${index}${x}`}
              cx={x * SIDE}
              cy={(1 - y) * SIDE}
              r="4.5"
              fill={index === chosen ? roleColour("act") : roleColour("paper")}
              stroke={roleColour("act")}
              strokeWidth="1.5"
            />
          ))}
        </svg>
        {LEVELS.map(([level, label]) => (
          <LevelHandle key={label} layer={layer} path={path} level={level} label={label} disabled={disabled} />
        ))}
      </Box>
      <Flex direction="column" gap="1">
        <IconButton label="Straight again" disabled={disabled || !points.length} onClick={() => set([], true)}>
          <RotateCcw size={13} />
        </IconButton>
        <Text fontSize="caption" color="quiet">
          {points.length ? `${points.length} points` : "straight"}
        </Text>
      </Flex>
    </Flex>
  );
}

/** A level on the edge of the square, dragged along it. */
function LevelHandle({
  layer,
  path,
  level: [name, part],
  label,
  disabled,
}: {
  layer: Layer;
  path: string;
  level: Level;
  label: string;
  disabled?: boolean;
}) {
  const session = useSession();
  const property = `${path}.${name}`;
  const arrays = session.frames.layer(layer.id!);
  const stored =
    arrays && property in arrays.values ? row(arrays, arrays.values[property], session.frames.frame)[part] : 0;
  const [held, setHeld] = useState<number | null>(null);
  const value = held ?? stored;
  const edit = (percent: number): Edit => ({
    edit: "set_property",
    layer: layer.id!,
    property,
    frame: session.frames.frame,
    value: part === 0 ? [percent, null] : [null, percent],
    linked: false,
  });
  const across = part === 0;
  const press = (event: React.PointerEvent) => {
    if (disabled || event.button !== 0) return;
    event.preventDefault();
    const target = event.currentTarget as HTMLElement;
    const square = target.parentElement!.querySelector("svg")!.getBoundingClientRect();
    target.setPointerCapture(event.pointerId);
    let now = value;
    const moved = (move: PointerEvent) => {
      const share = across
        ? (move.clientX - square.left) / square.width
        : (square.bottom - move.clientY) / square.height;
      now = Math.round(bound(share) * 1000) / 10;
      setHeld(now);
      session.try([edit(now)]);
    };
    const done = (keep: boolean) => {
      target.removeEventListener("pointermove", moved);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", cancel);
      if (keep) void session.edit(edit(now)).finally(() => setHeld(null));
      else {
        session.cancel();
        setHeld(null);
      }
    };
    const up = () => done(true);
    const cancel = () => done(false);
    target.addEventListener("pointermove", moved);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", cancel);
  };
  const dark = name === "black";
  const place = across
    ? { left: `${14 + (value / 100) * SIDE - 6}px`, bottom: "1px" }
    : { left: "0px", bottom: `${14 + (value / 100) * SIDE - 6}px` };
  return (
    <Box
      position="absolute"
      style={place}
      width="12px"
      height="12px"
      borderRadius={across ? "6px 6px 3px 3px" : "3px 6px 6px 3px"}
      borderWidth="1px"
      borderColor="ink"
      bg={dark ? "ink" : "paper"}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(value)}
      title={`${label} ${value.toFixed(1)} %`}
      cursor={across ? "ew-resize" : "ns-resize"}
      css={{ touchAction: "none" }}
      onPointerDown={press}
      onKeyDown={(event) => {
        const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
        if (!step || disabled) return;
        event.preventDefault();
        event.stopPropagation();
        void session.step(`level ${property} ${part}`, edit(bound(value + step * (event.shiftKey ? 10 : 1), 0, 100)));
      }}
    />
  );
}
