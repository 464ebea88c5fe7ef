import { Flex } from "@chakra-ui/react";
import { Shapes } from "lucide-react";
import { Pill } from "../parts/Pill";
import { useScene } from "../studio/document";
import { goOut } from "../studio/goInto";
import { isItem, layerAt } from "../studio/items";
import { selection, useSelection } from "../studio/selection";

/** That the hands are inside a layer, where, and the way out. */
export function InsideNote() {
  const { scene } = useScene();
  const first = useSelection((state) => state.selected[0] ?? "");
  if (!isItem(first)) return null;
  const names = first.split("/").map((_, i, all) => layerAt(scene.layers, all.slice(0, i + 1).join("/"))?.name);
  return (
    <Flex
      data-testid="inside-note"
      position="absolute"
      top="26px"
      left="26px"
      align="center"
      gap="2"
      pl="3"
      pr="1"
      height="28px"
      borderRadius="full"
      bg="paper"
      borderWidth="1px"
      borderColor="act"
      fontSize="12px"
      fontWeight={600}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <Shapes size={13} aria-hidden />
      {names.join(" › ")}
      <Pill height="20px" px="2" label="Out of the layer" onClick={() => goOut(selection().selected)}>
        Out
      </Pill>
    </Flex>
  );
}
