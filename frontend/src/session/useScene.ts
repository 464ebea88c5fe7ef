import { useQuery } from "@tanstack/react-query";
import { api, type Facts, type Layer, need, type PropertyFacts, type SceneAnswer } from "../api/client";
import { learnContents } from "../document/contents";
import { isMask } from "../document/items";
import { tracksOf } from "../document/tracks";
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

/** What the server knows of properties, fonts, formats and the like; the same as long as the page is open. */
export const FACTS = {
  queryKey: ["facts"],
  queryFn: async () => {
    const facts = (await need(api.GET("/api/facts"))) as Facts;
    learnContents(facts.contents);
    return facts;
  },
  staleTime: Number.POSITIVE_INFINITY,
};

export function useFacts(): Facts {
  const { data } = useQuery(FACTS);
  return (
    data ?? {
      fonts: [],
      properties: {},
      tags: [],
      formats: {},
      password: false,
      easings: {},
      safe: {},
      blends: [],
      contents: {},
      effects: {},
      recipes: [],
    }
  );
}

/** The pattern of a property: its path without numbers, with the kind of each part that may be of several. */
function patternOf(layer: Layer, name: string, facts: Facts): string {
  let part: unknown = layer;
  const words: string[] = [];
  for (const word of name.split(".")) {
    part = (part as Record<string, unknown> | undefined)?.[word];
    if (!/^\d+$/.test(word)) words.push(word);
    const tag = facts.tags.find((tag) => typeof (part as Record<string, unknown> | undefined)?.[tag] === "string");
    if (tag) words[words.length - 1] += `:${(part as Record<string, string>)[tag]}`;
  }
  // Groups within groups are shown as groups are, masks alike whatever they lie on, and their outlines as shapes.
  return words
    .join(".")
    .replace(/(\.items:group)+/, ".items:group")
    .replace(/^.*\.masks\./, "masks.")
    .replace(/^masks\.shape:/, "content:shape.items:");
}

/** How a property of a layer is shown. */
export function factsOf(layer: Layer, name: string, facts: Facts): PropertyFacts {
  const plain = { label: name, unit: "", parts: [""], role: "size", step: 1, linked: false, low: null, high: null };
  return facts.properties[patternOf(layer, name, facts)] ?? plain;
}

/** A property's label, with the name of its shape, or the number of one beyond the first. */
export function labelOf(layer: Layer, name: string, facts: Facts): string {
  const words = name.split(".");
  const place = words.findLastIndex((word) => /^\d+$/.test(word));
  const index = Number(words[place] ?? 0);
  const { label: plain } = factsOf(layer, name, facts);
  if (isMask(layer.id ?? "") && name === "opacity") return "Strength";
  // The numbers of a stroke's gradient are called as those of a fill's.
  const label = name.includes(".stroke.colour.") ? `Line ${plain.toLowerCase()}` : plain;
  if (place < 0) return label;
  const item = words
    .slice(0, place + 1)
    .reduce<unknown>((part, word) => (part as Record<string, unknown>)?.[word], layer);
  const own = (item as { name?: string } | undefined)?.name;
  if (own) return `${label} of ${own}`;
  return index || words[place + 1] === "transform" ? `${label} ${index + 1}` : label;
}

/** Where a property stands among the others: a layer's own, then numbers before colours, shape by shape. */
export function placeOf(layer: Layer, name: string, facts: Facts): number {
  const place = Object.keys(facts.properties).indexOf(patternOf(layer, name, facts));
  if (!name.startsWith("content.")) return place;
  const index = Number(name.split(".").find((word) => /^\d+$/.test(word)) ?? 0);
  const colour = factsOf(layer, name, facts).parts.length === 1 && typeof tracksOf(layer)[name]?.rest === "string";
  // The numbers of a part, such as a stroke's, come after the shape's own.
  const depth = name.split(".").length;
  return (index + 1) * 100_000 + (colour ? 10_000 : 0) + depth * 1_000 + place;
}
