import { useQuery } from "@tanstack/react-query";
import { api, type Facts, need, type SceneAnswer } from "../api/client";
import { learnContents } from "../document/contents";
import { learnEffects } from "../document/effects";
import { tellFonts } from "./fontFaces";
import { useSession } from "./session";

/** The scene's document and where its history stands; the session's edits keep it fresh. */
export function useScene(): SceneAnswer {
  const session = useSession();
  const { data } = useQuery<SceneAnswer>({
    queryKey: session.key,
    staleTime: Number.POSITIVE_INFINITY,
    enabled: false,
  });
  if (!data) throw new Error("the scene is not loaded");
  return data;
}

/** What the server knows of properties, fonts, formats and the like; the same as long as the page is open. */
export const FACTS = {
  queryKey: ["facts"],
  queryFn: async () => {
    const facts = (await need(api.GET("/api/facts"))) as Facts;
    learnContents(facts.contents);
    learnEffects(facts.effects);
    tellFonts(facts);
    return facts;
  },
  staleTime: Number.POSITIVE_INFINITY,
};

export function useFacts(): Facts {
  const { data } = useQuery(FACTS);
  return (
    data ?? {
      fonts: [],
      fallbacks: [],
      features: {},
      properties: {},
      tags: [],
      formats: {},
      password: false,
      easings: {},
      safe: {},
      blends: [],
      contents: {},
      effects: {},
      recipes: [],
    }
  );
}
