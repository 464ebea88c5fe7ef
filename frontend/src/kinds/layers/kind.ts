import type { LucideIcon } from "lucide-react";
import type { ComponentType } from "react";
import type { Layer, Scene } from "../../api/client";
import type { Letters } from "../../state/selection";

/** What a kind of layer is on screen. */
export interface LayerKind {
  /** The kind as the document has it. */
  kind: string;
  icon: LucideIcon;
  /** That of a layer, where it tells more. */
  iconOf?: (layer: Layer) => LucideIcon | undefined;
  /** What a layer of this kind is called. */
  name: (layer: Layer) => string;
  /** Its own part of the panel. */
  Block?: ComponentType<{ layer: Layer }>;
  /** What lies in it, right after the anchor. */
  Within?: ComponentType<{ layer: Layer }>;
  /** Whether it is a place and nothing else: nothing of it is painted. */
  markOnly?: boolean;
  /** Whether it lies over all of the scene, and is taken in the lanes and not on the stage. */
  throughout?: boolean;
  /** Properties of its content that need no row as it is now, by their paths in it. */
  unread?: (layer: Layer, letters: Letters | null) => string[];
  /** On the shelf: what it is called there, and a new one's content. */
  added?: { label: string; makes: (scene: Scene) => Record<string, unknown> };
}
