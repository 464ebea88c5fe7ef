import { Eye, EyeOff } from "lucide-react";
import type { Layer } from "../api/client";
import { IconButton } from "../parts/IconButton";
import { useSession } from "../session/session";

/** Hides and shows a layer, or a shape within one, which is as locked as its layer. */
export function EyeButton({ layer, locked, size }: { layer: Layer; locked?: boolean; size: number }) {
  const session = useSession();
  const visible = layer.visible !== false;
  const Icon = visible ? Eye : EyeOff;
  return (
    <IconButton
      label={visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
      color={visible ? "act" : "quiet"}
      disabled={locked}
      onClick={() => void session.edit({ edit: "set_visible", layers: [layer.id!], visible: !visible })}
    >
      <Icon size={size} />
    </IconButton>
  );
}
