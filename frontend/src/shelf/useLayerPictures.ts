import { useQuery } from "@tanstack/react-query";
import { unpackRecipes } from "../api/arrays";
import type { Layer } from "../api/client";
import { useRestingFrame, useRestingRevision } from "../fields/UnseenNote";
import { useSession } from "../session/session";

/** What each recipe, or each effect, would make of a layer where the playhead rests, as it is painted; by its name. */
export function useLayerPictures(what: "recipes" | "effects", layer: Layer) {
  const session = useSession();
  const revision = useRestingRevision();
  const frame = useRestingFrame();
  const { data } = useQuery({
    queryKey: [what, session.sceneId, layer.id, revision, frame],
    queryFn: async () => {
      const response = await fetch(`/api/scenes/${session.sceneId}/layers/${layer.id}/${what}?frame=${frame}`);
      if (!response.ok) throw new Error(`${what}: ${response.status}`);
      const found = unpackRecipes(await response.arrayBuffer());
      for (const message of found.items.values()) session.frames.learn(message);
      return found;
    },
    placeholderData: (before, query) => (query?.queryKey[2] === layer.id ? before : undefined),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  return data;
}
