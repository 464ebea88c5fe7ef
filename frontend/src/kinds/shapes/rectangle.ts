import { RectangleHorizontal, SquareRoundCorner } from "lucide-react";
import type { Item, ShapeKind } from "./kind";

type Box = Extract<Item, { shape?: "rectangle" }>;

const unread = (item: Item) => ((item as Box).apart ? ["corners"] : []);

/** Corners of their own begin as all four were. */
const parts: ShapeKind["parts"] = [
  [
    "Corners apart",
    "apart",
    (item) => {
      const radius = { rest: (item as Box).corners?.rest ?? 0 };
      return { top_left: radius, top_right: radius, bottom_right: radius, bottom_left: radius };
    },
  ],
];

export const rectangle: ShapeKind = {
  shape: "rectangle",
  name: "Rectangle",
  masks: true,
  icon: RectangleHorizontal,
  makes: (side) => ({ size: [side * 2, side], fill: "#0e6b61ff" }),
  unread,
  parts,
};

export const roundedBox: ShapeKind = {
  shape: "rectangle",
  name: "Rounded box",
  icon: SquareRoundCorner,
  makes: (side) => ({ size: [side * 2, side], corners: Math.round(side / 5), fill: "#0e3f45ff" }),
  is: (item) => Boolean((item as Box).corners?.rest || (item as Box).apart),
  unread,
  parts,
};
