import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { api, type ExportAnswer, type ExportChoices, need } from "../api/client";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { sayProblem } from "../state/page";
import type { Row } from "./useRows";

const isOpen = ({ state }: ExportAnswer) => state === "queued" || state === "running";

/** The files of the rows that were started last: started together, stopped and started again one by one. */
export function useTitleFiles() {
  const session = useSession();
  const { scene } = useScene();
  const cache = useQueryClient();
  const path = { scene_id: session.sceneId };
  const key = ["exports", session.sceneId];
  const { data = [] } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/exports", { params: { path } })),
    refetchInterval: (query) => (query.state.data?.some(isOpen) ? 400 : 5_000),
  });
  const renew = () => cache.invalidateQueries({ queryKey: key });
  const batch = data.find((job) => job.batch)?.batch ?? "";
  const starting = useRef(false);
  return {
    batch,
    jobs: batch ? data.filter((job) => job.batch === batch) : [],
    /** Start a file of each row; of a still, as at a frame. */
    start: async (rows: Row[], kind: string, choices: ExportChoices, pattern: string, still: number | null) => {
      if (starting.current) return;
      starting.current = true;
      try {
        const [first, stop] = still === null ? [0, scene.length] : [still, still + 1];
        const body = { rows: rows.map(({ id }) => id!), kind, choices, pattern, first, stop };
        await need(api.POST("/api/scenes/{scene_id}/table/exports", { params: { path }, body: body as never }));
        await renew();
      } catch (error) {
        sayProblem(error);
      } finally {
        starting.current = false;
      }
    },
    ask: (job: ExportAnswer, what: "cancel" | "again") =>
      void need(api.POST(`/api/exports/{job_id}/${what}`, { params: { path: { job_id: job.id } } }))
        .then(renew)
        .catch(sayProblem),
    stopAll: () =>
      need(api.POST("/api/scenes/{scene_id}/table/exports/{batch}/cancel", { params: { path: { ...path, batch } } }))
        .then(renew)
        .catch(sayProblem),
  };
}
