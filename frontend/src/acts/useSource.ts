import { useQuery } from "@tanstack/react-query";
import { api, type Layer, need } from "../api/client";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

/** The source frames that a layer shows at scene frames, and where in its span its source begins and ends. */
export function useSource(layer: Layer, at: number[], enabled = true) {
  const session = useSession();
  const { revision } = useScene();
  const asked = at.join(",");
  const { data } = useQuery({
    queryKey: ["source", session.sceneId, layer.id, asked, revision],
    queryFn: () =>
      need(
        api.GET("/api/scenes/{scene_id}/layers/{layer_id}/source", {
          params: { path: { scene_id: session.sceneId, layer_id: layer.id! }, query: { at: asked } },
        }),
      ),
    enabled,
    placeholderData: (before) => before,
  });
  return data ?? { frames: [], ends: [] };
}
