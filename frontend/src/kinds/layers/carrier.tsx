import { Grip } from "lucide-react";
import type { LayerKind } from "./kind";

export const carrier: LayerKind = {
  kind: "carrier",
  icon: Grip,
  name: () => "carrier",
  markOnly: true,
  added: { label: "Carrier", makes: () => ({ kind: "carrier" }) },
};
