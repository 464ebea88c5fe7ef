import { SwatchBook } from "lucide-react";
import type { LayerKind } from "./kind";

/** Effects on all that lies below. */
export const filter: LayerKind = {
  kind: "filter",
  icon: SwatchBook,
  name: () => "filter",
  throughout: true,
  added: { label: "Filter", makes: () => ({ kind: "filter" }) },
};
