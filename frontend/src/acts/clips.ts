import { useQuery } from "@tanstack/react-query";
import { api, type Layer, need } from "../api/client";
import { showsScene } from "../document/contents";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

/** The clips and sounds of the open scene's project. */
export function useClips() {
  const { project } = useScene();
  const path = { project_id: project };
  const { data = [] } = useQuery({
    queryKey: ["clips", project],
    queryFn: () => need(api.GET("/api/projects/{project_id}/clips", { params: { path } })),
    staleTime: 10_000,
  });
  return data;
}

/** Whether there is something to be heard of a layer, muted or not. */
export function useHasSound({ id, content }: Layer): boolean {
  const session = useSession();
  const { revision } = useScene();
  const clips = useClips();
  const inner = showsScene(content);
  const { data = [] } = useQuery({
    queryKey: ["heard", session.sceneId, revision, "muted too"],
    queryFn: () =>
      need(
        api.GET("/api/scenes/{scene_id}/heard", {
          params: { path: { scene_id: session.sceneId }, query: { muted: true } },
        }),
      ),
    enabled: inner,
    placeholderData: (before) => before,
  });
  if (inner) return data.includes(id!);
  return "asset" in content && clips.some((clip) => clip.id === content.asset && clip.sound);
}
