import { Star } from "lucide-react";
import type { ShapeKind } from "./kind";

export const star: ShapeKind = {
  shape: "star",
  name: "Star",
  masks: true,
  icon: Star,
  makes: (side) => ({ size: [side, side], fill: "#f2b544ff" }),
  counts: [["Points", "points", 3, 100]],
};
