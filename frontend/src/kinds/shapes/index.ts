import { arrow } from "./arrow";
import { arc, ellipse, pie, ring } from "./ellipse";
import { group } from "./group";
import type { Item, ShapeKind } from "./kind";
import { line } from "./line";
import { path } from "./path";
import { polygon } from "./polygon";
import { rectangle, roundedBox } from "./rectangle";
import { star } from "./star";
import { sunburst } from "./sunburst";

/** The kinds of shape, as the shelf offers them; a new one is a file of its own and a line here. */
export const SHAPES: ShapeKind[] = [
  rectangle,
  roundedBox,
  ellipse,
  pie,
  ring,
  arc,
  polygon,
  star,
  sunburst,
  line,
  arrow,
  path,
  group,
];

/** The kind that a shape is called by. */
export const kindOfShape = (item: Item): ShapeKind | undefined =>
  SHAPES.findLast((kind) => kind.shape === item.shape && kind.is?.(item)) ??
  SHAPES.find((kind) => kind.shape === item.shape);
