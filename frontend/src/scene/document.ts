import { useQuery } from "@tanstack/react-query";
import {
  api,
  type Ease,
  type Facts,
  type KeyRef,
  type Layer,
  need,
  type PropertyFacts,
  type SceneAnswer,
  type Track,
} from "../api/client";
import { useSession } from "./session";

/** The scene's document and where its history stands; the session's edits keep it fresh. */
export function useScene(): SceneAnswer {
  const session = useSession();
  const { data } = useQuery<SceneAnswer>({
    queryKey: session.key,
    staleTime: Number.POSITIVE_INFINITY,
    enabled: false,
  });
  if (!data) throw new Error("the scene is not loaded");
  return data;
}

export function useFacts(): Facts {
  const { data } = useQuery({
    queryKey: ["facts"],
    queryFn: () => need(api.GET("/api/facts")) as Promise<Facts>,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? { fonts: [], stations: {}, properties: {}, formats: {}, easings: {}, safe: {} };
}

export const OWN = ["anchor", "position", "scale", "rotation", "opacity"] as const;

const isTrack = (value: unknown): value is Track => typeof value === "object" && value !== null && "rest" in value;

/** Every track of a layer by the name that edits use. */
export function tracksOf(layer: Layer): Record<string, Track> {
  const found: Record<string, Track> = {};
  for (const name of OWN) {
    const own = layer[name]!;
    if ("rest" in own) found[name] = own;
    else Object.assign(found, { "position.x": own.x, "position.y": own.y });
  }
  const walk = (value: unknown, path: string) => {
    if (isTrack(value)) found[path] = value;
    else if (Array.isArray(value)) for (const [i, part] of value.entries()) walk(part, `${path}.${i}`);
    else if (typeof value === "object" && value !== null)
      for (const [name, part] of Object.entries(value)) walk(part, `${path}.${name}`);
  };
  walk(layer.content, "content");
  return found;
}

export function factsOf(name: string, facts: Facts): PropertyFacts {
  const leaf = name === "content.size" ? "text_size" : name in facts.properties ? name : name.split(".").at(-1)!;
  return facts.properties[leaf] ?? { label: leaf, unit: "", parts: [""], role: "size", step: 1, linked: false };
}

export function labelOf(name: string, facts: Facts): string {
  const item = /^content\.items\.(\d+)\./.exec(name);
  const label = factsOf(name, facts).label;
  return item && item[1] !== "0" ? `${label} ${Number(item[1]) + 1}` : label;
}

/** Scene frames of a track's keys. */
export const keyFrames = (layer: Layer, track: Track): number[] =>
  (track.keys ?? []).map((key) => key.frame + layer.span.start);

/** The frames at which a layer has any key, in order. */
export function poseFrames(layer: Layer): number[] {
  const frames = Object.values(tracksOf(layer)).flatMap((track) => keyFrames(layer, track));
  return [...new Set(frames)].sort((a, b) => a - b);
}

export function kindOf(layer: Layer): string {
  if (layer.content.kind !== "shape") return layer.content.kind!;
  const first = layer.content.items[0];
  return first.shape === "rectangle" && first.corners?.rest ? "rounded box" : (first.shape ?? "shape");
}

/** The easing that begins at a key. */
export function easeOf(session: { layer(id: string): Layer | undefined }, ref: KeyRef): Ease {
  const layer = session.layer(ref.layer);
  const keys = layer ? tracksOf(layer)[ref.property]?.keys : undefined;
  return keys?.find((key) => Math.abs(key.frame + layer!.span.start - ref.frame) < 1e-6)?.ease ?? "linear";
}
