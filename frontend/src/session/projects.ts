import { useQuery } from "@tanstack/react-query";
import { api, need } from "../api/client";
import { useScene } from "./useScene";

/** All projects with their scenes. */
export const PROJECTS = {
  queryKey: ["projects"],
  queryFn: () => need(api.GET("/api/projects")),
  staleTime: 10_000,
};

/** The scenes of the open scene's project, as they are known from outside. */
export function useProjectScenes() {
  const { project } = useScene();
  const { data } = useQuery(PROJECTS);
  return data?.find(({ id }) => id === project)?.scenes ?? [];
}
