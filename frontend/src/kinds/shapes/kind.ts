import type { LucideIcon } from "lucide-react";
import type { Layer } from "../../api/client";

export type ShapeContent = Extract<Layer["content"], { kind?: "shape" }>;
export type Item = ShapeContent["items"][number];

/** What a kind of shape is on screen. */
export interface ShapeKind {
  /** The kind as the document has it. */
  shape: NonNullable<Item["shape"]>;
  name: string;
  icon: LucideIcon;
  /** A new one, `side` pixels high. */
  makes: (side: number) => Record<string, unknown>;
  /** Its whole numbers that have no keys: what each is called, its field, the least and the most. */
  counts?: [string, string, number, number][];
}
