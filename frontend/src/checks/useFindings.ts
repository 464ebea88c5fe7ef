import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Finding, need } from "../api/client";
import { pressing } from "../parts/press";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

/** How long the document must have been left alone before it is checked, in milliseconds: no drag is slowed by it. */
const CALM = 500;

/** The newest revision at which nothing is under way; `soon` lets the next one through without a wait. */
function useRestingRevision(): [revision: number, soon: () => void] {
  const { revision } = useScene();
  const [resting, setResting] = useState(revision);
  const [soon, setSoon] = useState(false);
  useEffect(() => {
    if (resting === revision) return;
    let timer = 0;
    const rest = () => {
      if (pressing()) {
        timer = window.setTimeout(rest, CALM);
        return;
      }
      setSoon(false);
      setResting(revision);
    };
    timer = window.setTimeout(rest, soon ? 0 : CALM);
    return () => window.clearTimeout(timer);
  }, [revision, resting, soon]);
  return [resting, () => setSoon(true)];
}

/**
 * What the checks find in the scene, null while that is not known; what was found in the revision before stays until the
 * next is known. `failed` says that it could not be found out.
 */
export function useFindings(): { findings: Finding[] | null; failed: boolean; soon: () => void } {
  const session = useSession();
  const [revision, soon] = useRestingRevision();
  const path = { scene_id: session.sceneId };
  const { data, isError } = useQuery({
    queryKey: ["checks", session.sceneId, revision],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/checks", { params: { path } })),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  return { findings: (data as Finding[] | undefined) ?? null, failed: isError, soon };
}

/**
 * What is found in the painted pictures and in the sound, for the revision at which it was asked for: `look` asks. Null
 * before that, and after the scene has changed.
 */
export function usePictureFindings(): { seen: Finding[] | null; looking: boolean; look: () => void } {
  const session = useSession();
  const { revision } = useScene();
  const [asked, setAsked] = useState<number | null>(null);
  const path = { scene_id: session.sceneId };
  const { data, isFetching } = useQuery({
    queryKey: ["picture checks", session.sceneId, asked],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/checks", { params: { path, query: { pictures: true } } })),
    enabled: asked !== null,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const now = asked === revision;
  return {
    seen: now && data ? (data as Finding[]) : null,
    looking: now && isFetching,
    look: () => setAsked(revision),
  };
}
