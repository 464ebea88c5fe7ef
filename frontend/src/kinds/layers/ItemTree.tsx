import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { Copy, Eye, EyeOff, Group, MoveDown, MoveUp, Plus, Trash2, Ungroup } from "lucide-react";
import type { Edit, Layer } from "../../api/client";
import { Block } from "../../fields/Block";
import { type Act, openMenuBelow } from "../../parts/FloatMenu";
import { IconButton } from "../../parts/IconButton";
import { DraftInput } from "../../parts/TextInput";
import { useScene } from "../../studio/document";
import { startDrawing } from "../../studio/drawnPath";
import {
  addressAt,
  holds,
  isBare,
  isItem,
  itemsOf,
  layerAt,
  layerIn,
  parentOf,
  placeIn,
  within,
} from "../../studio/items";
import { select, selection, setSelection, useSelection } from "../../studio/selection";
import { useSession } from "../../studio/session";
import { kindOfShape, SHAPES } from "../shapes";

/** The most rows that the tree shows before it scrolls. */
const MOST = 5;

/** The shapes of a layer as a tree, the frontmost on top, with what can be done to those that are selected. */
export function ItemTree({ layer }: { layer: Layer }) {
  const { scene } = useScene();
  const root = layerAt(scene.layers, layerIn(layer.id!));
  if (!root || isBare(root)) return null;
  return (
    <Block name="Shapes" title={isItem(layer.id!) ? `Shapes of ${root.name}` : "Shapes"} beside={<Acts root={root} />}>
      <Box
        role="tree"
        aria-label={`Shapes of ${root.name}`}
        aria-multiselectable
        maxHeight={`${MOST * 24}px`}
        overflowY="auto"
        mx="-1.5"
      >
        <Branch parent={root} depth={0} />
      </Box>
    </Block>
  );
}

function Branch({ parent, depth }: { parent: Layer; depth: number }) {
  const { scene } = useScene();
  return within(parent).map((id) => {
    const layer = layerAt(scene.layers, id);
    if (!layer) return null;
    const item = itemsOf(parent)[placeIn(parent, id)];
    return (
      <Box key={id}>
        <Leaf layer={layer} icon={kindOfShape(item)?.icon} depth={depth} />
        {holds(layer) && <Branch parent={layer} depth={depth + 1} />}
      </Box>
    );
  });
}

interface LeafProps {
  layer: Layer;
  icon: React.ComponentType<{ size?: number }> | undefined;
  depth: number;
}

function Leaf({ layer, icon: Icon, depth }: LeafProps) {
  const session = useSession();
  const id = layer.id!;
  const on = useSelection((state) => state.selected.includes(id));
  const renaming = useSelection((state) => state.renaming === id);
  const visible = layer.visible !== false;
  const pick = (event: React.MouseEvent) => {
    const { selected } = selection();
    const beside = event.shiftKey && selected.length && parentOf(selected[0]) === parentOf(id);
    if (!beside) select(id);
    else select(...(on ? selected.filter((one) => one !== id) : [...selected, id]));
  };
  return (
    <Flex
      role="treeitem"
      aria-selected={on}
      aria-level={depth + 1}
      aria-label={layer.name}
      height="24px"
      align="center"
      gap="1.5"
      pl={`${6 + depth * 14}px`}
      pr="1.5"
      borderRadius="6px"
      bg={on ? "actWash" : undefined}
      cursor="default"
      onClick={pick}
    >
      {Icon && <Icon size={13} />}
      {renaming ? (
        <Flex
          flex="1"
          minWidth="0"
          onFocus={(event) => (event.target as HTMLInputElement).select()}
          onBlur={() => setSelection({ renaming: null })}
          onClick={(event) => event.stopPropagation()}
        >
          <DraftInput
            autoFocus
            label="Shape name"
            text={layer.name}
            height="20px"
            width="100%"
            px="1"
            take={(name) => session.edit({ edit: "rename_layer", layer: id, name })}
          />
        </Flex>
      ) : (
        <chakra.button
          type="button"
          flex="1"
          minWidth="0"
          textAlign="left"
          truncate
          fontWeight={on ? 700 : 500}
          color={visible ? "ink" : "quiet"}
          onDoubleClick={() => setSelection({ renaming: id })}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        >
          {layer.name}
        </chakra.button>
      )}
      <IconButton
        label={visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
        color={visible ? "act" : "quiet"}
        disabled={layer.locked}
        onClick={() => void session.edit({ edit: "set_visible", layers: [id], visible: !visible })}
      >
        {visible ? <Eye size={13} /> : <EyeOff size={13} />}
      </IconButton>
    </Flex>
  );
}

/** What can be done to the selected shapes; new ones go into what is selected, or beside it. */
function Acts({ root }: { root: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const chosen = selected.filter(isItem);
  const one = chosen.length === 1 ? layerAt(scene.layers, chosen[0]) : undefined;
  const locked = root.locked;
  const parent = chosen.length ? parentOf(chosen[0]) : root.id!;
  const beside = layerAt(scene.layers, parent);
  const count = beside ? itemsOf(beside).length : 0;

  /** Make an edit, and select the shape that stands at a place of what the chosen ones lie in. */
  const then = async (edit: Edit, place: number) => {
    if (!(await session.edit(edit))) return;
    const now = session.layer(parent);
    if (now) select(addressAt(now, place));
  };
  const places = beside ? chosen.map((id) => placeIn(beside, id)) : [];
  const move = (way: 1 | -1) => {
    const to = places[0] + way;
    if (to >= 0 && to < count) void session.edit({ edit: "reorder_layer", layer: chosen[0], to });
  };
  const group = () => then({ edit: "group_items", layers: chosen }, Math.max(...places) - (chosen.length - 1));
  const ungroup = async () => {
    if (await session.edit({ edit: "ungroup_items", layer: chosen[0] })) select(parent);
  };
  const copy = () => then({ edit: "duplicate_layers", layers: chosen }, places[0] + 1);
  const remove = async () => {
    if (await session.edit({ edit: "delete_layers", layers: chosen })) select(parent);
  };
  const [place = 0] = places;
  return (
    <Flex flex="1" justify="flex-end" align="center" gap="1">
      {one && holds(one) ? (
        <IconButton label="Take the group apart" disabled={locked} onClick={() => void ungroup()}>
          <Ungroup size={14} />
        </IconButton>
      ) : (
        <IconButton label="Group the selected shapes" disabled={locked || !chosen.length} onClick={() => void group()}>
          <Group size={14} />
        </IconButton>
      )}
      <IconButton
        label="Bring the shape forward"
        disabled={locked || !one || place === count - 1}
        onClick={() => move(1)}
      >
        <MoveUp size={14} />
      </IconButton>
      <IconButton label="Send the shape back" disabled={locked || !one || place === 0} onClick={() => move(-1)}>
        <MoveDown size={14} />
      </IconButton>
      <IconButton label="Duplicate the selected shapes" disabled={locked || !chosen.length} onClick={() => void copy()}>
        <Copy size={14} />
      </IconButton>
      <IconButton label="Delete the selected shapes" disabled={locked || !chosen.length} onClick={() => void remove()}>
        <Trash2 size={14} />
      </IconButton>
      <AddShape into={one && holds(one) ? one : (beside ?? root)} />
      {chosen.length > 1 && (
        <Text fontSize="11px" color="quiet">
          {chosen.length}
        </Text>
      )}
    </Flex>
  );
}

/** Offers the kinds of shape, and a path to draw; what is chosen goes into a layer or a group. */
export function AddShape({ into }: { into: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const add = (event: React.MouseEvent<HTMLButtonElement>) => {
    const side = Math.max(Math.round(Math.min(scene.width, scene.height) / 8), 8);
    const acts = SHAPES.flatMap(({ name, shape, makes }): Act[] => {
      if (!makes) return [];
      const content = { kind: "shape", items: [{ shape, ...makes(side) }] };
      const edit = { edit: "add_layer", into: into.id, content, name } as unknown as Edit;
      const added = () => {
        const now = session.layer(into.id!);
        if (now) select(addressAt(now, itemsOf(now).length - 1));
      };
      return [[name, () => void session.edit(edit).then((kept) => kept && added())]];
    });
    openMenuBelow("Add a shape", [...acts, ["Draw a path", () => startDrawing(into.id!)]], event.currentTarget);
  };
  return (
    <button
      type="button"
      className="bare"
      aria-label="Add a shape"
      title="Add a shape"
      aria-haspopup="menu"
      disabled={into.locked}
      onClick={add}
    >
      <Plus size={15} />
    </button>
  );
}
