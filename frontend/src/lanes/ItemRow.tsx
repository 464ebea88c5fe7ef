import { ChevronDown, ChevronRight } from "lucide-react";
import { memo } from "react";
import type { Layer } from "../api/client";
import { itemsOf, layerAt, parentOf, placeIn } from "../document/items";
import { EyeButton } from "../fields/EyeButton";
import { kindOfShape } from "../kinds/shapes";
import { IconButton } from "../parts/IconButton";
import { Box, chakra, Flex } from "../parts/styled";
import { useScene } from "../session/useScene";
import { useLanesView } from "../state/lanesView";
import { setSceneView, useSceneView } from "../state/sceneView";
import { select, selection, useSelection } from "../state/selection";
import { PosePebbles } from "./PosePebbles";
import { PropertyLane } from "./PropertyLane";
import { lanesOf, partsOf, ROW } from "./rows";
import { NAMES, toX, useScale } from "./scale";

/** A shape's row under its layer: its name and its keys; opened, a lane for each property, and rows for a group's. */
export const ItemRow = memo(({ layer, depth }: { layer: Layer; depth: number }) => {
  const { scene } = useScene();
  const scale = useScale();
  const id = layer.id!;
  const on = useSelection((state) => state.selected.includes(id));
  const opened = useSceneView((state) => state.opened[id] ?? false);
  const mode = useLanesView((state) => state.laneMode);
  const lanes = lanesOf(layer, mode);
  const parts = partsOf(layer);
  const visible = layer.visible !== false;
  const parent = layerAt(scene.layers, parentOf(id));
  const Icon = parent && kindOfShape(itemsOf(parent)[placeIn(parent, id)])?.icon;
  const { start, length } = layer.span;
  const pick = (event: React.MouseEvent) => {
    const { selected } = selection();
    if (!event.shiftKey || parentOf(selected[0] ?? "") !== parentOf(id)) select(id);
    else select(...(on ? selected.filter((one) => one !== id) : [...selected, id]));
  };
  return (
    <Box role="group" aria-label={layer.name} data-testid="item-row" data-selected={on ? "yes" : ""}>
      <Flex height={`${ROW}px`} borderBottomWidth="1px" borderColor="edge" bg={on ? "chosen" : "panel"}>
        <Flex
          width={`${NAMES}px`}
          flex="none"
          align="center"
          gap="1.5"
          pl={`${8 + depth * 14}px`}
          pr="2"
          borderRightWidth="1px"
          borderColor="edge"
          cursor="default"
          boxShadow={on ? "inset 3px 0 {colors.act}" : undefined}
          onClick={pick}
        >
          <EyeButton layer={layer} locked={layer.locked} size={13} />
          <IconButton
            hidden={!lanes.length && !parts.length}
            label={opened ? `Close the lanes of ${layer.name}` : `Open the lanes of ${layer.name}`}
            onClick={() => setSceneView((state) => ({ opened: { ...state.opened, [id]: !opened } }))}
          >
            {opened ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
          </IconButton>
          {Icon && <Icon size={12} aria-hidden style={{ flex: "none" }} />}
          <chakra.button
            type="button"
            flex="1"
            minWidth="0"
            textAlign="left"
            truncate
            fontWeight={on ? 700 : 500}
            color={visible ? "ink" : "quiet"}
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          >
            {layer.name}
          </chakra.button>
        </Flex>
        <Box flex="1" position="relative" overflow="hidden">
          <Box
            position="absolute"
            top="12px"
            height="2px"
            bg="edge"
            style={{ left: toX(scale, start), width: toX(scale, start + length) - toX(scale, start) }}
          />
          <PosePebbles layer={layer} />
        </Box>
      </Flex>
      {opened && lanes.map(([name, track]) => <PropertyLane key={name} layer={layer} name={name} track={track} />)}
      {opened && parts.map((part) => <ItemRow key={part.id} layer={part} depth={depth + 1} />)}
    </Box>
  );
});
