import { Slash } from "lucide-react";
import type { ShapeKind } from "./kind";

export const line: ShapeKind = {
  shape: "line",
  name: "Line",
  icon: Slash,
  makes: (side) => ({ start: [-side, 0], end: [side, 0], stroke: { colour: "#0e3f45ff", width: 8 } }),
  fills: false,
};
