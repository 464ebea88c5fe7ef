import { useQuery } from "@tanstack/react-query";
import { api, type Facts, need } from "../api/client";
import { tellFamilies } from "./fontFaces";
import { useFacts, useScene } from "./useScene";

/** The fonts that a project has of its own. */
export const projectFonts = (project: string) => ({
  queryKey: ["fonts", project],
  queryFn: async () => {
    const fonts = await need(
      api.GET("/api/projects/{project_id}/fonts", { params: { path: { project_id: project } } }),
    );
    // The generated client forgets that from and to are a pair.
    const families = fonts.families as Facts["fonts"];
    tellFamilies(families);
    return { ...fonts, families };
  },
  staleTime: 30_000,
});

/** The fonts of the open scene's project; none while they are not known. */
export function useProjectFonts() {
  const { project } = useScene();
  return useQuery(projectFonts(project)).data ?? { fonts: [], families: [], used: [] };
}

/** What the server knows, the families of the project among the fonts: one of its own before one of the same name. */
export function useFontFacts(): Facts {
  const facts = useFacts();
  const { families } = useProjectFonts();
  if (!families.length) return facts;
  const own = new Set(families.map(({ name }) => name));
  return { ...facts, fonts: [...families, ...facts.fonts.filter(({ name }) => !own.has(name))] };
}
