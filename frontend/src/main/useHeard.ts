import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, need } from "../api/client";
import { runs } from "../document/contents";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

/** Keeps the session knowing which layers are heard; scenes without clips and sounds are not asked about. */
export function useHeard() {
  const session = useSession();
  const { scene, revision } = useScene();
  const may = (scene.layers ?? []).some(({ content }) => runs(content));
  const { data } = useQuery({
    queryKey: ["heard", session.sceneId, revision],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/heard", { params: { path: { scene_id: session.sceneId } } })),
    enabled: may,
    placeholderData: (before) => before,
  });
  useEffect(() => {
    session.heard = may ? (data ?? []) : [];
  }, [session, data, may]);
  return session.heard;
}
