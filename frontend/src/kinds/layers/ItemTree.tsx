import { useVirtualizer } from "@tanstack/react-virtual";
import { Copy, Group, MoveDown, MoveUp, Plus, Trash2, Ungroup } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import type { Edit, Layer } from "../../api/client";
import {
  addressAt,
  holds,
  isBare,
  isItem,
  isMask,
  itemLayer,
  itemsOf,
  layerAt,
  layerIn,
  parentOf,
  placeIn,
} from "../../document/items";
import { Block } from "../../fields/Block";
import { EyeButton } from "../../fields/EyeButton";
import { NameField } from "../../fields/NameField";
import { type Act, openMenuBelow } from "../../parts/FloatMenu";
import { focusByKeys, reachedByKeys } from "../../parts/focus";
import { IconButton } from "../../parts/IconButton";
import { Box, chakra, Flex, Text } from "../../parts/styled";
import { startDrawing } from "../../session/drawnPath";
import { useSession } from "../../session/session";
import { useScene } from "../../session/useScene";
import { select, selection, setSelection, useSelection } from "../../state/selection";
import { kindOfShape, SHAPES } from "../shapes";

/** The most rows that the tree shows before it scrolls, and the height of one in pixels. */
const MOST = 5;
const ROW = 24;

/**
 * The row that the arrows have led to: it takes the keyboard as soon as it is drawn, with the tree, which stands in the
 * panel of what is selected and is built again with it.
 */
let led: string | null = null;

/** A shape or a group of the tree, and how many groups it lies in. */
interface Leaf {
  layer: Layer;
  icon: React.ComponentType<{ size?: number }> | undefined;
  depth: number;
}

/** The shapes of a layer as a tree, the frontmost on top, with what can be done to those that are selected. */
export function ItemTree({ layer }: { layer: Layer }) {
  const { scene } = useScene();
  const root = layerAt(scene.layers, layerIn(layer.id!));
  if (!root || isMask(layer.id!) || !itemsOf(root).length || isBare(root)) return null;
  return (
    <Block name="Shapes" title={isItem(layer.id!) ? `Shapes of ${root.name}` : "Shapes"} beside={<Acts root={root} />}>
      <Tree root={root} />
    </Block>
  );
}

function leavesOf(parent: Layer, depth = 0): Leaf[] {
  return itemsOf(parent)
    .map((item, index): Leaf[] => {
      const layer = itemLayer(parent, index)!;
      const below = holds(layer) ? leavesOf(layer, depth + 1) : [];
      return [{ layer, icon: kindOfShape(item)?.icon, depth }, ...below];
    })
    .reverse()
    .flat();
}

/** One stop of Tab, in which the arrows select; only the rows that show are drawn. */
function Tree({ root }: { root: Layer }) {
  const list = useRef<HTMLDivElement>(null);
  const leaves = useMemo(() => leavesOf(root), [root]);
  const last = useSelection((state) => state.selected.at(-1));
  const chosen = leaves.findIndex(({ layer }) => layer.id === last);
  const rows = useVirtualizer({
    count: leaves.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    getItemKey: (index) => leaves[index].layer.id!,
    overscan: MOST,
    useFlushSync: false,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another choice moves the list
  useEffect(() => {
    if (chosen >= 0) rows.scrollToIndex(chosen, { align: "auto" });
  }, [last]);
  const walk = (event: React.KeyboardEvent) => {
    const { key, target } = event;
    if (!reachedByKeys(target) || event.ctrlKey || event.metaKey || event.altKey) return;
    const here = leaves[chosen];
    const ways: Record<string, () => number> = {
      ArrowDown: () => chosen + 1,
      ArrowUp: () => chosen - 1,
      ArrowRight: () => (here && holds(here.layer) ? chosen + 1 : chosen),
      ArrowLeft: () => leaves.findIndex(({ layer }) => here && layer.id === parentOf(here.layer.id!)),
      Home: () => 0,
      End: () => leaves.length - 1,
    };
    const way = ways[key];
    if (!way || (target as Element).matches("input")) return;
    event.preventDefault();
    const to = leaves[way()]?.layer.id;
    if (!to) return;
    led = to;
    select(to);
  };
  return (
    <Box
      ref={list}
      role="tree"
      aria-label={`Shapes of ${root.name}`}
      aria-multiselectable
      maxHeight={`${MOST * ROW}px`}
      overflowY="auto"
      mx="-1.5"
      onKeyDown={walk}
    >
      <Box position="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, key, start }) => (
          <Box key={key} position="absolute" left="0" right="0" style={{ top: start }}>
            <Row leaf={leaves[index]} first={index === Math.max(chosen, 0)} />
          </Box>
        ))}
      </Box>
    </Box>
  );
}

interface RowProps {
  leaf: Leaf;
  /** Whether Tab stops at it. */
  first: boolean;
}

function Row({ leaf: { layer, icon: Icon, depth }, first }: RowProps) {
  const id = layer.id!;
  const on = useSelection((state) => state.selected.includes(id));
  const renaming = useSelection((state) => state.renaming === id);
  const name = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!first || led !== id || !name.current) return;
    led = null;
    focusByKeys(name.current);
  }, [first, id]);
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
      height={`${ROW}px`}
      align="center"
      gap="1.5"
      pl={`${6 + depth * 14}px`}
      pr="1.5"
      borderRadius="control"
      bg={on ? "actWash" : undefined}
      cursor="default"
      onClick={pick}
    >
      {Icon && <Icon size={13} />}
      {renaming ? (
        <NameField layer={layer} label="Shape name" />
      ) : (
        <chakra.button
          ref={name}
          type="button"
          tabIndex={first ? 0 : -1}
          flex="1"
          minWidth="0"
          textAlign="left"
          truncate
          fontWeight={on ? 700 : 500}
          color={layer.visible !== false ? "ink" : "quiet"}
          onDoubleClick={() => setSelection({ renaming: id })}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        >
          {layer.name}
        </chakra.button>
      )}
      <EyeButton layer={layer} locked={layer.locked} size={13} />
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
        <Text fontSize="caption" color="quiet">
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
