import { ChartPie, Circle, CircleDashed, Rainbow } from "lucide-react";
import type { Item, ShapeKind } from "./kind";

type Part = Extract<Item, { shape?: "ellipse" }>;

const isPart = ({ sweep }: Part) => Boolean(sweep?.keys?.length) || sweep?.rest !== 360;
const unread = (item: Item) => (isPart(item as Part) ? [] : ["start"]);
const choices: ShapeKind["choices"] = [["Closed by", "closing", ["pie", "chord", "open"]]];

export const ellipse: ShapeKind = {
  shape: "ellipse",
  name: "Ellipse",
  masks: true,
  icon: Circle,
  makes: (side) => ({ size: [side, side], fill: "#f2b544ff" }),
  unread,
  choices,
};

export const pie: ShapeKind = {
  shape: "ellipse",
  name: "Pie",
  icon: ChartPie,
  makes: (side) => ({ size: [side, side], sweep: 270, fill: "#f2b544ff" }),
  is: (item) => isPart(item as Part) && (item as Part).closing === "pie",
  unread,
  choices,
};

export const ring: ShapeKind = {
  shape: "ellipse",
  name: "Ring",
  icon: CircleDashed,
  makes: (side) => ({ size: [side, side], hole: 60, fill: "#f2b544ff" }),
  is: (item) => Boolean((item as Part).hole?.rest),
  unread,
  choices,
};

export const arc: ShapeKind = {
  shape: "ellipse",
  name: "Arc",
  icon: Rainbow,
  makes: (side) => ({
    size: [side * 2, side * 2],
    start: -90,
    sweep: 180,
    closing: "open",
    stroke: { colour: "#0e3f45ff", width: 8, cap: "round" },
  }),
  choices,
  is: (item) => (item as Part).closing === "open",
  unread,
};
