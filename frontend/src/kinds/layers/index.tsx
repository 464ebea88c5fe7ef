import { Layers } from "lucide-react";
import type { Layer } from "../../api/client";
import { carrier } from "./carrier";
import { clip, sound } from "./clip";
import { filter } from "./filter";
import type { LayerKind } from "./kind";
import { picture } from "./picture";
import { scene } from "./scene";
import { shape } from "./shape";
import { text } from "./text";

/** The kinds of layer; a new one is a file of its own and a line here. */
export const LAYER_KINDS: LayerKind[] = [shape, text, picture, clip, sound, scene, carrier, filter];

/** The kind of a layer; one that the page does not know has no part of its own. */
export const kindOf = ({ content }: Layer): LayerKind =>
  LAYER_KINDS.find((kind) => kind.kind === content.kind) ?? {
    kind: content.kind!,
    icon: Layers,
    name: () => content.kind!,
  };

/** A layer's kind by its icon. */
export function KindIcon({ layer, size = 14 }: { layer: Layer; size?: number }) {
  const kind = kindOf(layer);
  const Icon = kind.iconOf?.(layer) ?? kind.icon;
  return <Icon size={size} aria-hidden style={{ flex: "none" }} />;
}
