import { Sun } from "lucide-react";
import type { ShapeKind } from "./kind";

export const sunburst: ShapeKind = {
  shape: "sunburst",
  name: "Sunburst",
  icon: Sun,
  makes: (side) => ({ size: [side * 2, side * 2], fill: "#f2b544ff" }),
  counts: [["Rays", "rays", 2, 200]],
};
