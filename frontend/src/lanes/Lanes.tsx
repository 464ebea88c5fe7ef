import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Layer } from "../api/client";
import { outerOf } from "../document/items";
import { useUnseen } from "../fields/UnseenNote";
import { kindOf } from "../kinds/layers";
import { follow } from "../parts/press";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useLanesView } from "../state/lanesView";
import { say } from "../state/page";
import { setSceneView, useSceneView } from "../state/sceneView";
import { useSelection } from "../state/selection";
import { Bracket } from "./Bracket";
import { KeyMarquee } from "./KeyMarquee";
import { LanesHead } from "./LanesHead";
import { LayerRow } from "./LayerRow";
import { fits, isFiltered, useLaneFilter } from "./laneFilter";
import { Playhead } from "./Playhead";
import { heightOf, ROW } from "./rows";
import { EDGE, END, NAMES, ScaleContext } from "./scale";
import { TimeRuler } from "./TimeRuler";
import { useReorder } from "./useReorder";
import { useLaneWheel } from "./wheel";

const NOBODY: string[] = [];

/** Where some layers are left out, none has a place that it could be moved to: who drags one is told so. */
function noReorder({ clientY: from }: React.PointerEvent) {
  let told = false;
  const move = ({ clientY }: PointerEvent) => {
    if (told || Math.abs(clientY - from) < 5) return;
    told = true;
    say("Clear the filter of the lanes to change the order of layers.");
  };
  follow({ move, end: () => {}, cancel: () => {} });
}

/** The playhead's frame, whenever it rests, as long as it is needed. */
function useFrame(needed: boolean): number {
  const session = useSession();
  const [frame, setFrame] = useState(session.frames.frame);
  useEffect(() => {
    if (!needed) return;
    setFrame(session.frames.frame);
    return session.frames.subscribeCalmly(() => setFrame(session.frames.frame));
  }, [session, needed]);
  return needed ? frame : 0;
}

/** The layers over time, front first, with their spans, keys and the playhead; only the rows that show are there. */
export function Lanes() {
  const { scene } = useScene();
  const area = useRef<HTMLDivElement>(null);
  const list = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const zoom = useSceneView((state) => state.laneZoom);
  const from = useSceneView((state) => state.laneFrom);
  const opened = useSceneView((state) => state.opened);
  const mode = useLanesView((state) => state.laneMode);
  const tall = useSceneView((state) => state.tall);
  const fit = Math.max((width - NAMES - END - EDGE) / scene.length, 0.02);
  const scale = useMemo(() => ({ frameWidth: fit * zoom, from, width: width - NAMES }), [fit, zoom, from, width]);
  const unseen = new Map(useUnseen().map((one) => [one.layer, one.sentence]));

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, []);
  useLaneWheel(area, scale, scene.length);

  const slots = useMemo(() => {
    const found = new Map<string, string>();
    for (const { name, places } of scene.slots ?? [])
      for (const { layer } of places) found.set(layer, found.has(layer) ? `${found.get(layer)}, ${name}` : name);
    return found;
  }, [scene.slots]);
  const { words, only } = useLaneFilter();
  const selected = useSelection((state) => state.selected);
  const looked = only === "selected" ? selected : NOBODY;
  const frame = useFrame(only === "here");
  const layers = useMemo(() => {
    const all = [...(scene.layers ?? [])].reverse();
    const around = { selected: looked, frame, kind: (one: Layer) => kindOf(one).name(one) };
    return isFiltered({ words, only }) ? all.filter((layer) => fits(layer, { words, only }, around)) : all;
  }, [scene.layers, words, only, looked, frame]);
  const filtered = layers.length < (scene.layers ?? []).length;
  const heights = useMemo(
    () => layers.map((layer) => heightOf(layer, opened, mode, tall)),
    [layers, opened, mode, tall],
  );
  const rows = useVirtualizer({
    count: layers.length,
    getScrollElement: () => list.current,
    estimateSize: (index) => heights[index],
    getItemKey: (index) => layers[index].id!,
    overscan: 2,
    useFlushSync: false,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the heights are what is measured
  useLayoutEffect(() => rows.measure(), [heights]);
  const chosen = layers.findIndex((layer) => layer.id === selected.at(-1));
  const [room, setRoom] = useState(0);
  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom(entry.contentRect.height));
    observer.observe(list.current!);
    return () => observer.disconnect();
  }, []);
  // What is selected elsewhere, on the stage or by a link, comes into view, and stays there as the lanes get lower; where
  // some of it is seen, nothing jumps.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another choice, or less room, moves the list
  useEffect(() => {
    const box = list.current!;
    const top = heights.slice(0, chosen).reduce((all, height) => all + height, 0);
    const seen = Math.min(top + heights[chosen], box.scrollTop + box.clientHeight) - Math.max(top, box.scrollTop);
    if (chosen >= 0 && seen < ROW - 3) rows.scrollToIndex(chosen, { align: "auto" });
  }, [selected, room]);
  // Who goes into a layer sees where: its rows open, unless they were closed by hand.
  useEffect(() => {
    const around = selected.flatMap(outerOf);
    setSceneView((state) => {
      const fresh = around.filter((id) => state.opened[id] === undefined);
      return fresh.length ? { opened: { ...state.opened, ...Object.fromEntries(fresh.map((id) => [id, true])) } } : {};
    });
  }, [selected]);
  const { startReorder, line } = useReorder(list, layers, heights);

  return (
    <ScaleContext value={scale}>
      <Flex
        as="section"
        aria-label="Lanes"
        data-lanes
        ref={area}
        direction="column"
        height="100%"
        bg="paper"
        position="relative"
      >
        <Flex flex="none" height="25px" borderBottomWidth="1px" borderColor="edge">
          <LanesHead />
          <TimeRuler />
        </Flex>
        <Box
          ref={list}
          flex="1"
          minHeight="0"
          overflowY="auto"
          overflowX="hidden"
          role="list"
          aria-label="Layers"
          data-testid="layer-list"
          position="relative"
          css={{ contain: "strict" }}
        >
          <Box position="relative" style={{ height: rows.getTotalSize() }}>
            {rows.getVirtualItems().map((item) => {
              const layer = layers[item.index];
              return (
                <div key={item.key} style={{ position: "absolute", left: 0, right: 0, top: item.start }}>
                  <LayerRow
                    layer={layer}
                    unseen={unseen.get(layer.id!) ?? ""}
                    slots={slots.get(layer.id!) ?? ""}
                    startReorder={filtered ? noReorder : startReorder}
                  />
                </div>
              );
            })}
            {line !== null && (
              <Box
                position="absolute"
                left="0"
                width={`${NAMES}px`}
                top={`${line - 1}px`}
                height="3px"
                bg="act"
                pointerEvents="none"
              />
            )}
            <KeyMarquee list={list} layers={layers} heights={heights} />
          </Box>
          {!layers.length && filtered && (
            <Text color="quiet" px="3" py="4">
              None of the {scene.layers!.length} layers is like that.
            </Text>
          )}
          {!layers.length && !filtered && (
            <Text color="quiet" px="3" py="4">
              No layers yet. Add a shape, a text or a picture from the shelf, or drop a picture on the stage.
            </Text>
          )}
        </Box>
        <Bracket />
        <Playhead />
      </Flex>
    </ScaleContext>
  );
}
