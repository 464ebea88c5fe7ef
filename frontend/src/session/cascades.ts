import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Edit, type Layer, need } from "../api/client";
import { cascadesOf } from "../document/contents";
import type { Session } from "./session";
import { useSession } from "./session";
import { useScene } from "./useScene";

export type Cascade = ReturnType<typeof cascadesOf>[number];

const queryOf = (session: Session, layer: string, revision: number, frame: number) => ({
  queryKey: ["cascades", session.sceneId, layer, revision, frame],
  queryFn: () =>
    need(
      api.GET("/api/scenes/{scene_id}/layers/{layer_id}/cascades", {
        params: { path: { scene_id: session.sceneId, layer_id: layer }, query: { frame } },
      }),
    ),
  staleTime: Number.POSITIVE_INFINITY,
  gcTime: 10_000,
});

/** The times and units of a layer's cascades, as its text is when they are over; what is known last while they are asked for. */
export function useCascadeFacts(layer: Layer) {
  const session = useSession();
  const { revision } = useScene();
  const frame = layer.span.start + layer.span.length - 1;
  const { data } = useQuery({
    ...queryOf(session, layer.id!, revision, frame),
    enabled: cascadesOf(layer.content).length > 0,
    placeholderData: (before, query) => (query?.queryKey[2] === layer.id ? before : undefined),
  });
  return data ?? [];
}

/** The edits that set fields of a cascade. */
export const cascadeEdits = (layer: string, index: number, fields: Partial<Cascade>): Edit[] =>
  Object.entries(fields).map(([name, value]) => ({
    edit: "set_content",
    layer,
    path: `cascades.${index}.${name}`,
    value: value as never,
  }));

/** The cascades that the project keeps, by name. */
export function useKeptCascades() {
  const { project } = useScene();
  const cache = useQueryClient();
  const path = { project_id: project };
  const key = ["kept cascades", project];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/projects/{project_id}/cascades", { params: { path } })),
  });
  const learn = (known: NonNullable<typeof data>) => {
    cache.setQueryData(key, known);
    void cache.invalidateQueries({ queryKey: ["recipes"] });
  };
  return {
    kept: data ?? [],
    keep: async (told: NonNullable<typeof data>[number]) =>
      learn(await need(api.PUT("/api/projects/{project_id}/cascades", { params: { path }, body: told as never }))),
    drop: async (name: string) =>
      learn(
        await need(api.DELETE("/api/projects/{project_id}/cascades/{name}", { params: { path: { ...path, name } } })),
      ),
  };
}
