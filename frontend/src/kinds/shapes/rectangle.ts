import { RectangleHorizontal, SquareRoundCorner } from "lucide-react";
import type { ShapeKind } from "./kind";

export const rectangle: ShapeKind = {
  shape: "rectangle",
  name: "Rectangle",
  icon: RectangleHorizontal,
  makes: (side) => ({ size: [side * 2, side], fill: "#0e6b61ff" }),
};

export const roundedBox: ShapeKind = {
  shape: "rectangle",
  name: "Rounded box",
  icon: SquareRoundCorner,
  makes: (side) => ({ size: [side * 2, side], corners: Math.round(side / 5), fill: "#0e3f45ff" }),
};
