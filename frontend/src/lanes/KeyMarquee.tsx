import { type RefObject, useEffect, useState } from "react";
import type { KeyRef, Layer } from "../api/client";
import { keyFrames, tracksOf } from "../document/tracks";
import { sameKey, selectKeys } from "../keys/keys";
import { follow } from "../parts/press";
import { Box } from "../parts/styled";
import { lanesView } from "../state/lanesView";
import { sceneView } from "../state/sceneView";
import { selection } from "../state/selection";
import { laneHeight, lanesOf, partsOf, ROW, stripOf } from "./rows";
import { NAMES, toX, useScale } from "./scale";

interface Props {
  list: RefObject<HTMLDivElement | null>;
  layers: Layer[];
  heights: number[];
}

type Corner = [number, number];

/** A frame drawn on the lanes selects the keys it touches; Shift adds them. Esc gives back. */
export function KeyMarquee({ list, layers, heights }: Props) {
  const scale = useScale();
  const [drawn, setDrawn] = useState<[Corner, Corner] | null>(null);

  useEffect(() => {
    const box = list.current!;
    const at = (event: PointerEvent): Corner => {
      const { left, top } = box.getBoundingClientRect();
      return [event.clientX - left - NAMES, event.clientY - top + box.scrollTop];
    };
    const down = (event: PointerEvent) => {
      const target = event.target as HTMLElement;
      if (event.button !== 0 || target.closest("button, [data-testid=span], [role=slider]")) return;
      const start = at(event);
      if (start[0] < 0) return;
      const was = selection().keys;
      const before = event.shiftKey ? was : [];
      let begun = false;
      follow({
        move: (moved) => {
          const end = at(moved);
          if (!begun && Math.hypot(end[0] - start[0], end[1] - start[1]) < 4) return;
          begun = true;
          setDrawn([start, end]);
          const found = touched(start, end);
          const keys = [...before, ...found.filter((key) => !before.some((one) => sameKey(one, key)))];
          if (keys.length !== selection().keys.length || keys.some((key, i) => !sameKey(key, selection().keys[i])))
            selectKeys(keys);
        },
        end: () => setDrawn(null),
        cancel: () => {
          if (begun) selectKeys(was);
          setDrawn(null);
        },
      });
    };
    /** The keys whose pebbles lie within two corners. */
    const touched = (a: Corner, b: Corner): KeyRef[] => {
      const [left, right] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
      const [high, low] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
      const { opened, tall } = sceneView();
      const { laneMode } = lanesView();
      const found: KeyRef[] = [];
      let top = 0;
      /** What is touched of a layer, or of a shape in one, whose row begins at `top`. */
      const walk = (layer: Layer, top: number, within: boolean): number => {
        const id = layer.id!;
        const take = (name: string, y: number) => {
          if (y < high || y > low) return;
          for (const frame of keyFrames(layer, tracksOf(layer)[name])) {
            const x = toX(scale, frame + 0.5);
            if (x >= left && x <= right) found.push({ layer: id, property: name, frame });
          }
        };
        const own = top + ROW / 2;
        // The keys of a layer's row are those of all that lies in it.
        const spread = !within && own >= high && own <= low;
        if (spread) for (const name of Object.keys(tracksOf(layer))) take(name, own);
        let y = top + ROW;
        if (!opened[id]) return y;
        y += stripOf(layer);
        for (const [name] of lanesOf(layer, laneMode)) {
          const height = laneHeight(tall, id, name);
          if (!spread && !within) take(name, height > 60 ? y + height - 11 : y + height / 2);
          y += height;
        }
        for (const part of partsOf(layer)) y = walk(part, y, within || spread);
        return y;
      };
      layers.forEach((layer, i) => {
        walk(layer, top, false);
        top += heights[i];
      });
      return found;
    };
    box.addEventListener("pointerdown", down);
    return () => box.removeEventListener("pointerdown", down);
  });

  if (!drawn) return null;
  const [[ax, ay], [bx, by]] = drawn;
  return (
    <Box
      data-testid="key-marquee"
      position="absolute"
      pointerEvents="none"
      left={`${NAMES + Math.min(ax, bx)}px`}
      top={`${Math.min(ay, by)}px`}
      width={`${Math.abs(ax - bx)}px`}
      height={`${Math.abs(ay - by)}px`}
      borderWidth="1px"
      borderStyle="dashed"
      borderColor="act"
      bg="actWash"
      opacity={0.5}
    />
  );
}
