import { Hexagon } from "lucide-react";
import type { ShapeKind } from "./kind";

export const polygon: ShapeKind = {
  shape: "polygon",
  name: "Polygon",
  masks: true,
  icon: Hexagon,
  makes: (side) => ({ size: [side, side], fill: "#3b6ea8ff" }),
  counts: [["Sides", "sides", 3, 100]],
};
