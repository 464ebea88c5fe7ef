import { useQuery } from "@tanstack/react-query";
import { api, need } from "../api/client";
import type { components } from "../api/schema";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

export type SlotFacts = components["schemas"]["SlotFacts"];
export type SlotOffer = components["schemas"]["SlotOffer"];
export type SlotValue = NonNullable<SlotFacts["value"]>;

/** The slots of the open scene as they stand, in their order. */
export function useSlots(): SlotFacts[] {
  const session = useSession();
  const { revision, scene } = useScene();
  const path = { scene_id: session.sceneId };
  const { data } = useQuery({
    queryKey: ["slots", session.sceneId, revision],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/slots", { params: { path } })),
    placeholderData: (before) => before,
    enabled: Boolean(scene.slots?.length),
  });
  return scene.slots?.length ? ((data ?? []) as SlotFacts[]) : [];
}

/** Those of another scene, which a layer shows. */
export function useInnerSlots(scene: string): SlotFacts[] {
  const session = useSession();
  const { revision } = useScene();
  const { data } = useQuery({
    queryKey: ["slots", scene, "within", revision, session.innerVersion],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/slots", { params: { path: { scene_id: scene } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === scene ? before : undefined),
    retry: false,
  });
  return (data ?? []) as SlotFacts[];
}

/** What of a layer or a shape can be a slot. */
export const offersOf = (sceneId: string, layer: string) =>
  need(
    api.GET("/api/scenes/{scene_id}/slots/offers", { params: { path: { scene_id: sceneId }, query: { layer } } }),
  ) as Promise<SlotOffer[]>;
