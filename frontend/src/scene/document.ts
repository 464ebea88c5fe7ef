import { useQuery } from "@tanstack/react-query";
import { api, type Facts, type Layer, need, type PropertyFacts, type SceneAnswer } from "../api/client";
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

export function factsOf(name: string, facts: Facts): PropertyFacts {
  const leaf = name === "content.size" ? "text_size" : name in facts.properties ? name : name.split(".").at(-1)!;
  return facts.properties[leaf] ?? { label: leaf, unit: "", parts: [""], role: "size", step: 1, linked: false };
}

export function labelOf(name: string, facts: Facts): string {
  const item = /^content\.items\.(\d+)\./.exec(name);
  const label = factsOf(name, facts).label;
  return item && item[1] !== "0" ? `${label} ${Number(item[1]) + 1}` : label;
}

export function kindOf(layer: Layer): string {
  if (layer.content.kind !== "shape") return layer.content.kind!;
  const first = layer.content.items[0];
  return first.shape === "rectangle" && first.corners?.rest ? "rounded box" : (first.shape ?? "shape");
}
