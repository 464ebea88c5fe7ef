import type { Layer, Scene } from "../api/client";

interface Part {
  id?: string;
  items?: Part[];
}

/** The name of the slot that fills a property of a layer or a shape, by the path that it has there; none where none does. */
export function slotAt(scene: Pick<Scene, "slots" | "layers">, layer: Layer, path: string): string | undefined {
  const [own, ...within] = layer.id!.split("/");
  const mine = (scene.slots ?? []).filter(({ places }) => places.some((place) => place.layer === own));
  if (!mine.length) return undefined;
  const steady = within.length ? ofItem(within, path) : steadyOf(layer, path);
  return mine.find(({ places }) => places.some((place) => place.layer === own && steady.includes(place.path)))?.name;
}

/** A path in a layer with the ids of items, masks and effects in place of their numbers. */
function steadyOf(layer: Layer, path: string): string[] {
  let part: unknown = layer;
  const steps = path.split(".").map((step) => {
    if (Array.isArray(part)) {
      part = part[Number(step)];
      const { id } = (part ?? {}) as Part;
      return id ? `@${id}` : step;
    }
    part = (part as Record<string, unknown> | undefined)?.[step];
    return step;
  });
  return [steps.join(".")];
}

/** The paths that a property of a shape or a mask may have in its layer, by the ids on the way to it. */
function ofItem(ids: string[], path: string): string[] {
  let prefix = "";
  ids.forEach((id, index) => {
    if (id === "@") return;
    const of = ids[index - 1] === "@" ? "masks" : prefix ? "items" : "content.items";
    prefix = `${prefix ? `${prefix}.` : ""}${of}.@${id}`;
  });
  const mask = ids.includes("@");
  if (!path.startsWith("content.")) return [`${prefix}.transform.${path}`, `${prefix}.${path}`];
  const own = path.replace(/^content\.items\.0\./, "");
  return [`${prefix}.${mask ? `shape.${own}` : own}`, `${prefix}.${path.replace(/^content\./, "")}`];
}
