import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Ease, type EaseFacts, need, type Preset } from "../api/client";
import { useScene } from "../session/useScene";

const nameOf = (ease: Ease) => JSON.stringify(ease);
const list = (asked: Parameters<typeof need>[0]) => need(asked) as Promise<EaseFacts[]>;

/** Names, texts and curves of easings, as the core has them; what is not there yet is left out. */
export function useEaseFacts(eases: Ease[]): Map<string, EaseFacts> {
  const names = [...new Set(eases.map(nameOf))].sort();
  const { data } = useQuery({
    queryKey: ["ease", ...names],
    queryFn: () => list(api.POST("/api/easings/curves", { body: { eases: names.map((name) => JSON.parse(name)) } })),
    enabled: names.length > 0,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
  });
  return new Map((data ?? []).map((facts) => [nameOf(facts.ease as Ease), facts]));
}

/** The facts of one easing. */
export function useEase(ease: Ease): EaseFacts | undefined {
  return useEaseFacts([ease]).get(nameOf(ease));
}

/** The easing that a text tells, or the problem in words. */
export const readEase = (text: string) => need(api.POST("/api/easings/read", { body: { text } })) as Promise<EaseFacts>;

/** The easings offered by name: those of everyone, then the project's own. */
export function usePresets() {
  const { project } = useScene();
  const cache = useQueryClient();
  const path = { project_id: project };
  const common = useQuery({
    queryKey: ["easings"],
    queryFn: () => need(api.GET("/api/easings")) as Promise<Preset[]>,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const key = ["easings", project];
  const own = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/projects/{project_id}/easings", { params: { path } })) as Promise<Preset[]>,
  });
  return {
    common: common.data ?? [],
    own: own.data ?? [],
    keep: async (preset: Preset) => {
      cache.setQueryData(
        key,
        await need(api.PUT("/api/projects/{project_id}/easings", { params: { path }, body: preset as never })),
      );
    },
    drop: async (name: string) => {
      const where = { params: { path: { ...path, name } } };
      cache.setQueryData(key, await need(api.DELETE("/api/projects/{project_id}/easings/{name}", where)));
    },
  };
}
