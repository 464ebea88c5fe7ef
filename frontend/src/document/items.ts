import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import type { Point } from "../geometry/layerGeometry";
import { hasItems, type ShapeContent } from "./contents";
import type { FrameStore } from "./frames";

/**
 * Shapes within layers as layers. A shape is known by its address: `layer/2`, one within a group `layer/2/0`, made of
 * ids that stay with shapes; what it lies in, its parent, is a layer or a group. Edits take addresses wherever they take layers (`core/inside.py`).
 */
export type Item = ShapeContent["items"][number];
export type GroupItem = Extract<Item, { shape?: "group" }>;
export type ShapeItem = Exclude<Item, GroupItem>;

/** In an address, what stands before the id of a mask; `layer/@` is what the masks of a layer lie in. */
const MASKS = "@";

export const masksOf = (id: string) => `${id}/${MASKS}`;

/** Whether an address is that of what the masks of a layer lie in, which is nothing to be selected. */
export const holdsMasks = (id: string) => id.endsWith(`/${MASKS}`);

/** Whether an address is that of a mask. */
export const isMask = (id: string) => holdsMasks(parentOf(id));

/** What an item or a mask lies in, from its layer inwards. */
export const outerOf = (id: string): string[] =>
  id
    .split("/")
    .slice(0, -1)
    .map((_, i, all) => all.slice(0, i + 1).join("/"))
    .filter((address) => !holdsMasks(address));

/** What is gone out to from a shape or a mask: what it lies in, or what it masks. */
export function outOf(id: string): string {
  const parent = parentOf(id);
  return holdsMasks(parent) ? parentOf(parent) : parent;
}

/** The layer that an address lies in; of a layer, itself. */
export const layerIn = (id: string) => id.split("/", 1)[0];

/** What a shape lies in; empty for a layer. */
export const parentOf = (id: string) => id.slice(0, Math.max(id.lastIndexOf("/"), 0));

/** The id that tells a shape apart from those beside it. */
const keyIn = (id: string) => id.slice(id.lastIndexOf("/") + 1);

/** The address of one of a layer's items by its place, 0 at the back. */
export const addressAt = (parent: Layer, index: number) => `${parent.id}/${itemsOf(parent)[index]?.id || index}`;

/** A shape's place in what it lies in, 0 at the back; -1 where it is gone. */
export const placeIn = (parent: Layer, id: string) =>
  itemsOf(parent).findIndex((item, index) => (item.id || String(index)) === keyIn(id));

export const isItem = (id: string) => id.includes("/");

/** The items of a shape layer, or of a group as a layer; none of any other. */
export const itemsOf = (layer: Layer): Item[] => (hasItems(layer.content) ? layer.content.items : []);

/** What an item is called: its name, or its kind, with its number where there are several. */
export const itemName = (item: Item, index: number, count: number) => {
  const name = item.name?.trim() || (count > 1 ? `${item.shape} ${index + 1}` : item.shape!);
  return item.name?.trim() ? name : name[0].toUpperCase() + name.slice(1);
};

/** The layers that stand for groups; others that stand for items are bare shapes. */
const groups = new WeakSet<Layer>();
const holders = new WeakMap<Layer, Layer>();

/** What the masks of a layer lie in, as a layer whose shapes they are; the same object as long as the layer is. */
export function maskHolder(owner: Layer): Layer {
  const there = holders.get(owner);
  if (there) return there;
  const items = (owner.masks ?? []).map(({ shape, id, name, visible, transform }) => ({
    ...shape,
    ...{ id, name, visible, transform: transform ?? null },
  }));
  const holder = {
    ...owner,
    ...{ id: masksOf(owner.id!), name: "Masks", content: { kind: "shape", items }, masks: [] },
    ...{ crop: null, framing: null, matte: null },
  } as unknown as Layer;
  groups.add(holder);
  holders.set(owner, holder);
  return holder;
}
const known = new WeakMap<Item, { parent: Layer; index: number; layer: Layer }>();

/** One of a layer's items as a layer; the same object as long as both are. */
export function itemLayer(parent: Layer, index: number): Layer | undefined {
  const items = itemsOf(parent);
  const item = items[index];
  if (!item) return undefined;
  const there = known.get(item);
  if (there?.parent === parent && there.index === index) return there.layer;
  const own = item.transform;
  const bare = { ...item, transform: null, name: "", visible: true };
  const layer = {
    id: addressAt(parent, index),
    name: itemName(item, index, items.length),
    visible: item.visible !== false,
    locked: parent.locked,
    span: parent.span,
    blend: "normal",
    content: { kind: "shape", items: item.shape === "group" ? (item as GroupItem).items : [bare] },
    masks: item.shape === "group" ? ((item as GroupItem).masks ?? []) : [],
    anchor: own?.anchor ?? { rest: [0.5, 0.5], keys: [], pinned: true },
    position: own?.position ?? { rest: [0, 0], keys: [] },
    scale: own?.scale ?? { rest: [100, 100], keys: [] },
    rotation: own?.rotation ?? { rest: 0, keys: [] },
    opacity: own?.opacity ?? { rest: 100, keys: [] },
  } as unknown as Layer;
  if (item.shape === "group") groups.add(layer);
  known.set(item, { parent, index, layer });
  return layer;
}

/** A layer, or a shape within one as a layer, by its address; undefined where it is gone. */
export function layerAt(layers: Layer[] | undefined, id: string): Layer | undefined {
  const [first, ...places] = id.split("/");
  let layer = layers?.find((one) => one.id === first);
  for (const place of places) {
    if (place === MASKS) {
      layer = layer && maskHolder(layer);
      continue;
    }
    // A bare shape holds nothing that could be gone into.
    if (!layer || !holds(layer)) return undefined;
    layer = itemLayer(layer, placeIn(layer, place));
  }
  return layer;
}

/** Whether shapes lie in it: a layer of shapes, or a group. */
export const holds = (layer: Layer) => itemsOf(layer).length > 0 && (!isItem(layer.id!) || groups.has(layer));

/** Whether it is one shape and nothing else: a layer of one without a motion of its own, or a shape within a layer. */
export function isBare(layer: Layer): boolean {
  const [item] = itemsOf(layer);
  if (!item || isItem(layer.id!)) return Boolean(item) && !holds(layer);
  return itemsOf(layer).length === 1 && item.shape !== "group" && !item.transform;
}

/** The addresses of what lies in a layer or a group, the frontmost first; none in a bare shape. */
export const within = (layer: Layer): string[] =>
  holds(layer)
    ? itemsOf(layer)
        .map((_, i) => addressAt(layer, i))
        .reverse()
    : [];

/** What the selection lies in: a layer or a group; empty where layers are selected. */
export const insideOf = (selected: string[]) => parentOf(selected[0] ?? "");

/** The matrix from the pixels of what an address lies in, of what a mask masks or of what carries a layer to the scene. */
function matrixOfParent(frames: FrameStore, id: string, frame: number): ArrayLike<number> & Iterable<number> {
  const carrier = isItem(id) ? null : frames.layer(id, frame)?.carrier;
  const parent = isItem(id) ? frames.layer(outOf(id), frame) : carrier ? frames.layer(carrier, frame) : undefined;
  return parent ? row(parent, isMask(id) || carrier ? parent.matrix : parent.inner, frame) : [1, 0, 0, 1, 0, 0];
}

/** A step in the scene as one in the pixels of what an item lies in or a layer is carried by; else they are the scene's. */
export function stepInto(frames: FrameStore, id: string, frame: number, [x, y]: Point): Point {
  const [a, b, c, d] = matrixOfParent(frames, id, frame);
  const area = a * d - b * c;
  return area ? [(d * x - c * y) / area, (a * y - b * x) / area] : [0, 0];
}

/** A step in the pixels of what an item lies in as one in the scene. */
export function stepOutOf(frames: FrameStore, id: string, frame: number, [x, y]: Point): Point {
  const [a, b, c, d] = matrixOfParent(frames, id, frame);
  return [a * x + c * y, b * x + d * y];
}
