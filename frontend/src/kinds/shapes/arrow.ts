import { MoveRight } from "lucide-react";
import type { ShapeKind } from "./kind";

export const arrow: ShapeKind = {
  shape: "arrow",
  name: "Arrow",
  icon: MoveRight,
  makes: (side) => ({ start: [-side, 0], end: [side, 0], fill: "#d9482fff" }),
  choices: [["Heads", "heads", ["end", "start", "both"]]],
};
