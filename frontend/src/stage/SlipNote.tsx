import { useSource } from "../acts/useSource";
import type { Layer } from "../api/client";
import { hasFilm } from "../document/contents";
import { layerAt } from "../document/items";
import { Flex, Text } from "../parts/styled";
import { useSourcePictures } from "../play/sourcePictures";
import { useScene } from "../session/useScene";
import { useLanesView } from "../state/lanesView";

/** While a source is slipped under its span: the pictures at both ends of the span, over the stage. */
export function SlipNote() {
  const { scene } = useScene();
  const slipping = useLanesView((state) => state.slipping);
  const layer = slipping && layerAt(scene.layers, slipping.layer);
  return layer && hasFilm(layer.content) ? <Ends layer={layer} by={slipping.by} /> : null;
}

function Ends({ layer, by }: { layer: Layer; by: number }) {
  const { start, length } = layer.span;
  // What the layer will show at a frame is what it shows now as many frames before.
  const { frames } = useSource(layer, [start - by, start + length - 1 - by]);
  const urls = useSourcePictures(layer, frames, 320);
  return (
    <Flex position="absolute" bottom="12px" left="12px" right="12px" justify="space-between" pointerEvents="none">
      {["First", "Last"].map((which, index) => (
        <Flex
          key={which}
          direction="column"
          gap="1"
          p="1.5"
          bg="paper"
          borderWidth="1px"
          borderColor="act"
          borderRadius="10px"
          data-testid={`slip-${which.toLowerCase()}`}
          data-source={frames[index]}
        >
          <Flex width="200px" height="112px" align="center" justify="center" bg="surround" borderRadius="6px">
            {urls[index] && <img src={urls[index]} alt="" style={{ maxWidth: "100%", maxHeight: "100%" }} />}
          </Flex>
          <Text fontSize="caption" color="quiet">
            {which} · {frames[index] >= 0 ? `source frame ${frames[index]}` : "nothing"}
          </Text>
        </Flex>
      ))}
    </Flex>
  );
}
