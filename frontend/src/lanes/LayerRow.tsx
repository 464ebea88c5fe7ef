import { ChevronDown, ChevronRight, Ellipsis, Focus, Lock } from "lucide-react";
import { memo } from "react";
import type { Layer } from "../api/client";
import { cascadesOf } from "../document/contents";
import { EyeButton } from "../fields/EyeButton";
import { NameField } from "../fields/NameField";
import { layerActs } from "../keys/layerMenu";
import { KindIcon, kindOf } from "../kinds/layers";
import { openMenu, openMenuBelow } from "../parts/FloatMenu";
import { IconButton } from "../parts/IconButton";
import { Box, chakra, Flex } from "../parts/styled";
import { useSession } from "../session/session";
import { useLanesView } from "../state/lanesView";
import { setSceneView, useSceneView } from "../state/sceneView";
import { select, selection, setSelection, useSelection } from "../state/selection";
import { CascadeLanes } from "./CascadeLane";
import { ItemRow } from "./ItemRow";
import { PosePebbles } from "./PosePebbles";
import { PropertyLane } from "./PropertyLane";
import { lanesOf, partsOf, ROW, stripOf } from "./rows";
import { SourceLane } from "./SourceLane";
import { SpanBar } from "./SpanBar";
import { NAMES } from "./scale";

interface Props {
  layer: Layer;
  /** Why nothing of it shows at the playhead; empty where something does. */
  unseen: string;
  /** The names of the slots that fill it. */
  slots: string;
  startReorder: (event: React.PointerEvent, id: string) => void;
}

/** A layer's row: what it is, its span, all its keys; opened, a lane for each property and a row for each shape. */
export const LayerRow = memo(({ layer, unseen, slots, startReorder }: Props) => {
  const session = useSession();
  const id = layer.id!;
  const selected = useSelection((state) => state.selected.includes(id));
  const inside = useSelection((state) => state.selected.some((one) => one.startsWith(`${id}/`)));
  const opened = useSceneView((state) => state.opened[id] ?? false);
  const mode = useLanesView((state) => state.laneMode);
  const solo = useSceneView((state) => state.solo.includes(id));
  const renaming = useSelection((state) => state.renaming === id);
  const lanes = lanesOf(layer, mode);
  const parts = partsOf(layer);
  const cascades = cascadesOf(layer.content).length;
  const acts = () => layerActs(session, layer);

  const pick = (event: React.MouseEvent) => {
    if (!event.shiftKey) select(id);
    else {
      const { selected: before } = selection();
      select(...(before.includes(id) ? before.filter((one) => one !== id) : [...before, id]));
    }
  };

  return (
    <Box
      role="listitem"
      className="layer-row"
      aria-label={layer.name}
      data-testid="layer-row"
      data-reads={`${id} position`}
      data-selected={selected ? "yes" : ""}
      data-inside={inside ? "yes" : undefined}
      data-unseen={unseen ? "yes" : ""}
    >
      <Flex
        height={`${ROW}px`}
        borderBottomWidth="1px"
        borderColor="edge"
        bg={selected || inside ? "chosen" : undefined}
      >
        <Flex
          width={`${NAMES}px`}
          flex="none"
          align="center"
          gap="1.5"
          px="2"
          borderRightWidth="1px"
          borderColor="edge"
          boxShadow={selected ? "inset 3px 0 {colors.act}" : undefined}
          onClick={pick}
          onPointerDown={(event) => startReorder(event, id)}
          onContextMenu={(event) => {
            event.preventDefault();
            openMenu(layer.name, acts(), [event.clientX, event.clientY]);
          }}
          cursor="default"
          title={unseen}
        >
          <EyeButton layer={layer} size={14} />
          <IconButton
            hidden={!lanes.length && !parts.length && !stripOf(layer) && !cascades}
            label={opened ? `Close the lanes of ${layer.name}` : `Open the lanes of ${layer.name}`}
            onClick={() => setSceneView((state) => ({ opened: { ...state.opened, [id]: !opened } }))}
          >
            {opened ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
          </IconButton>
          <KindIcon layer={layer} size={13} />
          {renaming ? (
            <NameField layer={layer} label="Layer name" />
          ) : (
            <chakra.button
              type="button"
              flex="1"
              minWidth="0"
              textAlign="left"
              truncate
              fontWeight={selected ? 700 : 500}
              fontStyle={unseen ? "italic" : undefined}
              color={unseen && !selected ? "quiet" : "ink"}
              onDoubleClick={() => setSelection({ renaming: id })}
              _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
            >
              {layer.name}
            </chakra.button>
          )}
          {slots && (
            <chakra.span
              role="img"
              color="act"
              fontWeight={600}
              title={`Filled by ${slots}`}
              aria-label={`filled by ${slots}`}
            >
              #
            </chakra.span>
          )}
          {solo && (
            <IconButton
              label={`End the solo of ${layer.name}`}
              color="anchorInk"
              onClick={() => setSceneView((state) => ({ solo: state.solo.filter((one) => one !== id) }))}
            >
              <Focus size={13} />
            </IconButton>
          )}
          {layer.locked && (
            <IconButton
              label={`Unlock ${layer.name}`}
              onClick={() => void session.edit({ edit: "set_locked", layers: [id], locked: false })}
            >
              <Lock size={12} />
            </IconButton>
          )}
          <span className="lane-kind">{kindOf(layer).name(layer)}</span>
          <button
            type="button"
            className="bare"
            aria-label={`More for ${layer.name}`}
            aria-haspopup="menu"
            title="More"
            onClick={(event) => {
              event.stopPropagation();
              openMenuBelow(layer.name, acts(), event.currentTarget);
            }}
          >
            <Ellipsis size={14} />
          </button>
        </Flex>
        <Box flex="1" position="relative" overflow="hidden" onPointerDown={(event) => event.shiftKey && pick(event)}>
          <SpanBar layer={layer} selected={selected} />
          <PosePebbles layer={layer} />
        </Box>
      </Flex>
      {opened && stripOf(layer) > 0 && <SourceLane layer={layer} />}
      {opened && cascades > 0 && <CascadeLanes layer={layer} />}
      {opened && lanes.map(([name, track]) => <PropertyLane key={name} layer={layer} name={name} track={track} />)}
      {opened && parts.map((part) => <ItemRow key={part.id} layer={part} depth={1} />)}
    </Box>
  );
});
