import { Crosshair } from "lucide-react";
import type { LayerKind } from "./kind";

export const empty: LayerKind = {
  kind: "empty",
  icon: Crosshair,
  name: () => "empty",
  markOnly: true,
  added: { label: "Empty", makes: () => ({ kind: "empty" }) },
};
