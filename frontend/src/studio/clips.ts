import { useQuery } from "@tanstack/react-query";
import { api, type Layer, need } from "../api/client";
import { useScene } from "./document";

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

/** Whether there is something to be heard of a layer. */
export function useHasSound({ content }: Layer): boolean {
  const clips = useClips();
  return "asset" in content && clips.some(({ id, sound }) => id === content.asset && sound);
}
