import { Image, Shapes, Type } from "lucide-react";

/** A layer's kind by its icon. */
export function KindIcon({ kind, size = 14 }: { kind: string; size?: number }) {
  const Icon = kind === "text" ? Type : kind === "picture" ? Image : Shapes;
  return <Icon size={size} aria-hidden style={{ flex: "none" }} />;
}
