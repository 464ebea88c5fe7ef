import type { Facts, Layer } from "../api/client";

type Kinds = Facts["effects"];
let kinds: Kinds = {};

/** What the kinds of effects are, as the server tells: those of other packages, too. */
export const learnEffects = (told: Kinds) => {
  kinds = told;
};

/** An effect of a layer by its id, its place, and the paths of its points among the layer's properties. */
export function pointsOf(layer: Layer | undefined, id: string | null): { index: number; paths: string[] } | null {
  const index = layer?.effects?.findIndex((one) => one.id === id) ?? -1;
  const effect = layer?.effects?.[index];
  if (!effect || effect.visible === false) return null;
  return { index, paths: (kinds[effect.effect!]?.points ?? []).map((name) => `effects.${index}.${name}`) };
}
