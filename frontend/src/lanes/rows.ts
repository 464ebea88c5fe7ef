import type { Layer, Track } from "../api/client";
import { cascadesOf, hasItems, runs, writtenBy } from "../document/contents";
import { isBare, itemLayer, maskHolder, placeIn, within } from "../document/items";
import { tracksOf, WRITTEN } from "../document/tracks";

export const ROW = 27;
export const LANE = 27;
export const TALL = 132;
export const STRIP = 46;
export const CASCADE = 34;

/** The height of the film or the large wave under an opened clip or sound; none under other layers. */
export const stripOf = ({ content }: Layer) => (runs(content) ? STRIP : 0);

type Mode = "keyed" | "all" | "changed";

const REST: Record<string, string> = {
  scale: "100,100",
  rotation: "0",
  opacity: "100",
  anchor: "0.5,0.5",
};

/** Whether a property was changed: keyed, or at rest elsewhere than a new layer's. */
const changed = (name: string, track: Track) =>
  (track.keys?.length ?? 0) > 0 ||
  Boolean(track.formula) ||
  (name in REST ? String(track.rest) !== REST[name] : name.startsWith("position"));

/** The property lanes that an opened layer shows. */
export function lanesOf(layer: Layer, mode: Mode): [string, Track][] {
  const single = hasItems(layer.content) && layer.content.items.length === 1;
  const apart = shapesOf(layer).length > 0;
  const formula = writtenBy(layer);
  const written: [string, Track][] = formula ? [[WRITTEN, { rest: "", formula } as Track]] : [];
  return [...Object.entries(tracksOf(layer)), ...written].filter(([name, track]) => {
    // The numbers of masks have lanes under their own rows, but for their feathers.
    if (name.startsWith("masks.") && !name.endsWith(".feather")) return false;
    if (apart && name.startsWith("content.")) return false;
    // The values of cascades rest mostly: those that are keyed have lanes.
    if (name.startsWith("content.cascades.") && !track.keys?.length && !track.formula) return false;
    if (mode === "keyed") return (track.keys?.length ?? 0) > 0 || Boolean(track.formula);
    if (mode === "changed") return changed(name, track);
    return !(single && name.endsWith(".at"));
  });
}

/** The height of a lane. */
export const laneHeight = (tall: Record<string, boolean>, layer: string, name: string) =>
  tall[`${layer}.${name}`] ? TALL : LANE;

const rowsIn = (parent: Layer) => within(parent).flatMap((id) => itemLayer(parent, placeIn(parent, id)) ?? []);

/** The shapes of a layer that have rows of their own, front first: those of a layer of several, or of one that moves. */
const shapesOf = (layer: Layer) => (isBare(layer) ? [] : rowsIn(layer));

/** What has rows of its own under a layer's: its masks, and its shapes. */
export const partsOf = (layer: Layer): Layer[] => [
  ...(layer.masks?.length ? rowsIn(maskHolder(layer)).reverse() : []),
  ...shapesOf(layer),
];

/** The height of a layer's row with the lanes, and the rows of its shapes, that are opened under it. */
export function heightOf(
  layer: Layer,
  opened: Record<string, boolean>,
  mode: Mode,
  tall: Record<string, boolean>,
): number {
  if (!opened[layer.id!]) return ROW;
  const own = lanesOf(layer, mode).reduce(
    (all, [name]) => all + laneHeight(tall, layer.id!, name),
    ROW + stripOf(layer) + CASCADE * cascadesOf(layer.content).length,
  );
  return partsOf(layer).reduce((all, part) => all + heightOf(part, opened, mode, tall), own);
}
