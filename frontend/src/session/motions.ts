import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, need } from "../api/client";
import { useScene } from "./useScene";

/** The motions that the project keeps: keys of a layer, relative to where they land. */
export function useMotions() {
  const { project } = useScene();
  const cache = useQueryClient();
  const path = { project_id: project };
  const key = ["motions", project];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/projects/{project_id}/motions", { params: { path } })),
  });
  const learn = (known: NonNullable<typeof data>) => {
    cache.setQueryData(key, known);
    void cache.invalidateQueries({ queryKey: ["recipes"] });
  };
  return {
    motions: data ?? [],
    keep: async (name: string, scene: string, layer: string) =>
      learn(
        await need(api.PUT("/api/projects/{project_id}/motions", { params: { path }, body: { name, scene, layer } })),
      ),
    drop: async (name: string) =>
      learn(
        await need(api.DELETE("/api/projects/{project_id}/motions/{name}", { params: { path: { ...path, name } } })),
      ),
  };
}
