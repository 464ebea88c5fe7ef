import type { Facts, Layer, PropertyFacts } from "../api/client";
import { isMask } from "./items";
import { tracksOf } from "./tracks";

/** The pattern of a property: its path without numbers, with the kind of each part that may be of several. */
function patternOf(layer: Layer, name: string, facts: Facts): string {
  // A mask's opacity is its strength.
  if (isMask(layer.id ?? "") && name === "opacity") return "masks.transform.opacity";
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
  const shown = { label: name, noun: "", told: false, unit: "", parts: [""], role: "size", step: 1 };
  const plain = { ...shown, linked: false, low: null, high: null };
  return facts.properties[patternOf(layer, name, facts)] ?? plain;
}

/** A property's label, with the name or the number of the part that it is of, as the server says it. */
export function labelOf(layer: Layer, name: string, facts: Facts): string {
  const words = name.split(".");
  const place = words.findLastIndex((word) => /^\d+$/.test(word));
  const index = Number(words[place] ?? 0);
  const { label, noun, told } = factsOf(layer, name, facts);
  if (place < 0) return label;
  const item = words
    .slice(0, place + 1)
    .reduce<unknown>((part, word) => (part as Record<string, unknown>)?.[word], layer);
  const own = (item as { name?: string } | undefined)?.name;
  // What has no label of its own is called as what it is part of.
  if (!label) return own ? `${own[0].toUpperCase()}${own.slice(1)}` : `${noun} ${index + 1}`;
  if (own) return `${label} of ${own}`;
  return index || told ? `${label} of ${noun} ${index + 1}` : label;
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
