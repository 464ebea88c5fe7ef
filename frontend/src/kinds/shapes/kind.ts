import type { LucideIcon } from "lucide-react";
import type { Item } from "../../document/items";

export type { ShapeContent } from "../../document/contents";
export type { Item, ShapeItem } from "../../document/items";

/** What a kind of shape is on screen. */
export interface ShapeKind {
  /** The kind as the document has it. */
  shape: NonNullable<Item["shape"]>;
  name: string;
  icon: LucideIcon;
  /** A new one from the shelf, `side` pixels high; none of what is made in another way. */
  makes?: (side: number) => Record<string, unknown>;
  /** Whether a mask may be made of it by itself. */
  masks?: boolean;
  /** Its whole numbers that have no keys: what each is called, its field, the least and the most. */
  counts?: [string, string, number, number][];
  /** Its choices: what each is called, its field, what there is to choose from. */
  choices?: [string, string, string[]][];
  /** Its parts that are there or not: what each is called, its field, and what it begins with. */
  parts?: [string, string, (item: Item) => unknown][];
  /** Whether a shape of the kind is called by this name; the last of the list that says so is it. */
  is?: (item: Item) => boolean;
  /** Properties that are not read as the shape is now. */
  unread?: (item: Item) => string[];
  /** Whether it has an inside that can be filled; yes unless it says no. */
  fills?: boolean;
}
