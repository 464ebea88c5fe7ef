import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, need } from "../api/client";
import type { components } from "../api/schema";
import { say, sayProblem } from "../state/page";
import { useScene } from "./useScene";

type Style = components["schemas"]["NamedStyle"];

/** The named colours of the project, each with its contrast to the scene's ground. */
export function useProjectColours() {
  const { project, scene } = useScene();
  const cache = useQueryClient();
  const path = { project_id: project };
  const ground = scene.background ?? "#00000000";
  const on = ground.endsWith("00") ? undefined : ground;
  const { data } = useQuery({
    queryKey: ["colours", project, on],
    queryFn: () => need(api.GET("/api/projects/{project_id}/colours", { params: { path, query: { on } } })),
  });
  const again = () => cache.invalidateQueries({ queryKey: ["colours", project] });
  return {
    colours: data ?? [],
    /** Keep a colour: a new one, or with an id another colour or name of one that there is; its id. */
    keep: async (name: string, colour: string, id?: string): Promise<string | null> => {
      try {
        const body = { name, colour, id: id ?? null };
        const answer = await need(api.PUT("/api/projects/{project_id}/colours", { params: { path }, body }));
        await again();
        if (answer.said) say(answer.said);
        return answer.id ?? null;
      } catch (error) {
        sayProblem(error);
        return null;
      }
    },
    drop: async (name: string) => {
      await need(
        api.DELETE("/api/projects/{project_id}/colours/{name}", { params: { path: { ...path, name } } }),
      ).catch(sayProblem);
      await again();
    },
  };
}

/** The styles of texts of the project. */
export function useProjectStyles() {
  const { project } = useScene();
  const cache = useQueryClient();
  const path = { project_id: project };
  const { data } = useQuery({
    queryKey: ["styles", project],
    queryFn: () => need(api.GET("/api/projects/{project_id}/styles", { params: { path } })),
  });
  const again = () => cache.invalidateQueries({ queryKey: ["styles", project] });
  return {
    styles: data ?? [],
    /** Keep how a text looks: as a new style, or with an id as one that there is, which all texts of it follow. */
    keep: async (name: string, scene: string | null, layer: string | null, id?: string): Promise<Style | null> => {
      try {
        const body = { name, scene, layer, id: id ?? null };
        const answer = await need(api.PUT("/api/projects/{project_id}/styles", { params: { path }, body }));
        await again();
        if (answer.said) say(answer.said);
        return (answer.styles.find((one) => one.id === answer.id) as Style | undefined) ?? null;
      } catch (error) {
        sayProblem(error);
        return null;
      }
    },
    drop: async (name: string) => {
      await need(api.DELETE("/api/projects/{project_id}/styles/{name}", { params: { path: { ...path, name } } })).catch(
        sayProblem,
      );
      await again();
    },
  };
}
