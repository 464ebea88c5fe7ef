import { Spline } from "lucide-react";
import type { ShapeKind } from "./kind";

export const path: ShapeKind = { shape: "path", name: "Path", icon: Spline };
