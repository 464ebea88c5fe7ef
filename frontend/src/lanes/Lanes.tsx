import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { fps, useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { LayerRow } from "./LayerRow";
import { Playhead } from "./Playhead";
import { Ruler } from "./Ruler";

export const NAMES = 236;
const END = 18;

/** The layers over time, front first, with their spans, keys and the playhead. */
export function Lanes() {
  const session = useSession();
  const { scene } = useScene();
  const area = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const frameWidth = Math.max((width - NAMES - END - 10) / scene.length, 0.05);

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, []);

  const scrubbing = useRef(false);
  const scrub = (event: { clientX: number }) => {
    const left = area.current!.getBoundingClientRect().left + NAMES + 10;
    session.frames.seek(Math.floor((event.clientX - left) / frameWidth));
  };
  useEffect(() => {
    const stop = () => {
      scrubbing.current = false;
    };
    window.addEventListener("pointerup", stop);
    return () => window.removeEventListener("pointerup", stop);
  }, []);

  const layers = [...(scene.layers ?? [])].reverse();
  return (
    <Flex as="section" aria-label="Lanes" ref={area} direction="column" height="100%" bg="paper" position="relative">
      <Flex flex="none" height="25px" borderBottomWidth="1px" borderColor="edge">
        <Flex
          width={`${NAMES}px`}
          flex="none"
          align="center"
          justify="space-between"
          px="3"
          color="quiet"
          fontSize="12px"
          borderRightWidth="1px"
          borderColor="edge"
        >
          <Text>Lanes · front first</Text>
          <Text>{Math.round(fps(scene) * 1000) / 1000} fps</Text>
        </Flex>
        <Box
          flex="1"
          position="relative"
          cursor="ew-resize"
          data-testid="ruler"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            scrubbing.current = true;
            scrub(event);
          }}
          onPointerMove={(event) => scrubbing.current && scrub(event)}
          css={{ touchAction: "none" }}
        >
          <Ruler scene={scene} frameWidth={frameWidth} />
        </Box>
      </Flex>
      <Box flex="1" minHeight="0" overflowY="auto" overflowX="hidden" role="list" aria-label="Layers">
        {layers.map((layer) => (
          <LayerRow key={layer.id} layer={layer} scene={scene} frameWidth={frameWidth} />
        ))}
        {!layers.length && (
          <Text color="quiet" px="3" py="4">
            No layers yet. Add a shape, a text or a picture from the shelf, or drop a picture on the stage.
          </Text>
        )}
      </Box>
      <Playhead frameWidth={frameWidth} scene={scene} />
    </Flex>
  );
}
