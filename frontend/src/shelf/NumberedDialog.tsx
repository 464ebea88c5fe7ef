import { useRef } from "react";
import { Window } from "../fields/Window";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { useScene } from "../session/useScene";
import { setPage, usePage } from "../state/page";
import { useAddClips } from "./clips";
import { packed } from "./numbered";
import { useAddPictures } from "./pictures";

/** Asks whether numbered pictures are one clip or a layer each, and takes them in. */
export function NumberedDialog() {
  const clip = useRef<HTMLButtonElement>(null);
  return (
    <Window name="numbered" title="Numbered pictures" width="440px" first={() => clip.current}>
      <Ask clip={clip} />
    </Window>
  );
}

function Ask({ clip }: { clip: React.RefObject<HTMLButtonElement | null> }) {
  const { scene } = useScene();
  const files = usePage((state) => state.numbered);
  const addClips = useAddClips();
  const addPictures = useAddPictures();
  // A second press finds nothing left to take.
  const taken = () => setPage({ dialog: null, numbered: [] });
  const [frames, seconds] = scene.frame_rate ?? [30, 1];
  return (
    <Flex direction="column" gap="3">
      <Text color="quiet">
        {files.length} pictures from {files[0]?.name} to {files.at(-1)?.name}: one after another as a clip, at{" "}
        {Math.round((frames / seconds) * 1000) / 1000} a second, or each as a layer.
      </Text>
      <Flex justify="flex-end" gap="2">
        <Pill onClick={taken}>Cancel</Pill>
        <Pill
          disabled={!files.length}
          onClick={() => {
            taken();
            void addPictures(files);
          }}
        >
          {files.length} layers
        </Pill>
        <Pill
          ref={clip}
          look="act"
          disabled={!files.length}
          onClick={() => {
            taken();
            void packed(files).then((file) => addClips([file], undefined, `${frames}/${seconds}`));
          }}
        >
          One clip
        </Pill>
      </Flex>
    </Flex>
  );
}
