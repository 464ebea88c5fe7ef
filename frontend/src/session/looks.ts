import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, need } from "../api/client";
import type { Effect } from "../state/effects";
import { useScene } from "./useScene";

/** The looks that the project keeps, by name: effects that belong together. */
export function useLooks() {
  const { project } = useScene();
  const cache = useQueryClient();
  const path = { project_id: project };
  const key = ["looks", project];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/projects/{project_id}/looks", { params: { path } })),
  });
  const learn = (known: NonNullable<typeof data>) => {
    cache.setQueryData(key, known);
    void cache.invalidateQueries({ queryKey: ["effects"] });
  };
  return {
    looks: data ?? [],
    keep: async (name: string, effects: Effect[]) =>
      learn(
        await need(api.PUT("/api/projects/{project_id}/looks", { params: { path }, body: { name, effects } as never })),
      ),
    drop: async (name: string) =>
      learn(await need(api.DELETE("/api/projects/{project_id}/looks/{name}", { params: { path: { ...path, name } } }))),
  };
}
