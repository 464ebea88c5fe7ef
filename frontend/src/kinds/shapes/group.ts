import { Group } from "lucide-react";
import type { ShapeKind } from "./kind";

export const group: ShapeKind = { shape: "group", name: "Group", icon: Group, fills: false };
