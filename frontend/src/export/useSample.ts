import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, need } from "../api/client";
import type { Asked } from "./asked";

/** How long choices rest before a part is tried, in milliseconds. */
const REST = 500;

/** A part of what is asked for, as it will be encoded, with a guess of its size and time; `asked` is null while what is
 * typed is no order. */
export function useSample(scene: string, revision: number, asked: Asked | null, near: number) {
  const [rested, setRested] = useState<Asked | null>(null);
  const key = JSON.stringify(asked);
  useEffect(() => {
    const timer = setTimeout(() => setRested(key === "null" ? null : JSON.parse(key)), REST);
    return () => clearTimeout(timer);
  }, [key]);
  const settled = JSON.stringify(rested) === key;
  const query = useQuery({
    queryKey: ["export-sample", scene, revision, key],
    enabled: settled && rested !== null,
    retry: 1,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      need(
        api.POST("/api/scenes/{scene_id}/exports/sample", {
          params: { path: { scene_id: scene } },
          body: { ...(rested as Asked), near } as never,
        }),
      ),
  });
  return {
    sample: query.data,
    fault: query.error?.message ?? "",
    waiting: asked !== null && !query.data && !query.error,
  };
}
