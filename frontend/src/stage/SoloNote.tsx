import { layerAt } from "../document/items";
import { Box } from "../parts/styled";
import { useScene } from "../session/useScene";
import { useSceneView } from "../state/sceneView";

/** That only some layers are painted here, in words, as long as it is so. */
export function SoloNote() {
  const { scene } = useScene();
  const solo = useSceneView((state) => state.solo);
  if (!solo.length) return null;
  const names = solo.map((id) => layerAt(scene.layers, id)?.name);
  return (
    <Box
      data-testid="note"
      position="absolute"
      top="26px"
      left="50%"
      transform="translateX(-50%)"
      px="3"
      py="0.5"
      borderRadius="full"
      bg="ink"
      color="paper"
      fontSize="row"
      fontWeight={600}
      pointerEvents="none"
    >
      {`Solo: ${names.join(", ")}. Other layers are not painted here.`}
    </Box>
  );
}
