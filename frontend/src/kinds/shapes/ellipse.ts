import { Circle } from "lucide-react";
import type { ShapeKind } from "./kind";

export const ellipse: ShapeKind = {
  shape: "ellipse",
  name: "Ellipse",
  icon: Circle,
  makes: (side) => ({ size: [side, side], fill: "#f2b544ff" }),
};
