import { ellipse } from "./ellipse";
import type { ShapeKind } from "./kind";
import { polygon } from "./polygon";
import { rectangle, roundedBox } from "./rectangle";
import { star } from "./star";

/** The kinds of shape, as the shelf offers them; a new one is a file of its own and a line here. */
export const SHAPES: ShapeKind[] = [rectangle, roundedBox, ellipse, polygon, star];
