import type { CSSProperties } from "react";
import type { Facts } from "../api/client";
import { facesOf } from "../session/fontFaces";

export interface Look {
  font?: { family?: string; weight?: number; italic?: boolean } | null;
  features?: readonly string[] | null;
  case?: string | null;
  /** Places on the axes of the font, by their tags. */
  axes: [string, number][];
}

/** Letters as the page writes them: in the very files that the picture is shaped with, so that both are as wide. */
export function letterStyle({ font, features, case: how, axes }: Look, facts: Facts): CSSProperties {
  const tags = (features ?? []).flatMap((name) => facts.features[name] ?? []);
  return {
    fontFamily: facesOf(font?.family ?? "Figtree", facts),
    fontWeight: font?.weight ?? 600,
    fontStyle: font?.italic ? "italic" : "normal",
    fontOpticalSizing: "none",
    fontFeatureSettings:
      tags.map((tag) => (tag[0] === "-" ? `"${tag.slice(1)}" 0` : `"${tag}" 1`)).join(", ") || "normal",
    fontVariationSettings: axes.map(([tag, value]) => `"${tag}" ${value}`).join(", ") || "normal",
    textTransform: how === "upper" ? "uppercase" : "none",
    fontVariantCaps: how === "small capitals" ? "small-caps" : "normal",
  };
}
