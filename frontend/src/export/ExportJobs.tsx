import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { api, type ExportAnswer, need } from "../api/client";
import { Pill } from "../parts/Pill";
import { ProgressBar } from "../parts/ProgressBar";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts } from "../session/useScene";
import { sayProblem } from "../state/page";

const STATES: Record<ExportAnswer["state"], string> = {
  queued: "waiting",
  running: "rendering",
  done: "done",
  failed: "failed",
  cancelled: "stopped",
};

/** The exports of this scene: how they stand, stopped, started again, taken. */
export function ExportJobs() {
  const session = useSession();
  const cache = useQueryClient();
  const facts = useFacts();
  const path = { scene_id: session.sceneId };
  const key = ["exports", session.sceneId];
  const { data = [] } = useQuery({
    queryKey: key,
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/exports", { params: { path } })),
    refetchInterval: (query) => (query.state.data?.some((job) => isOpen(job)) ? 300 : 3_000),
  });
  const ask = async (job: ExportAnswer, what: "cancel" | "again") => {
    try {
      await need(api.POST(`/api/exports/{job_id}/${what}`, { params: { path: { job_id: job.id } } }));
      void cache.invalidateQueries({ queryKey: key });
    } catch (error) {
      sayProblem(error);
    }
  };
  return (
    <Box mt="4" maxHeight="240px" overflowY="auto">
      {!data.length && <Text color="quiet">Exports of this scene will be listed here; they go on while you work.</Text>}
      {data.map((job) => (
        <Box
          key={job.id}
          borderTopWidth="1px"
          borderColor="edge"
          py="2"
          data-testid="export-job"
          data-state={job.state}
        >
          <Flex align="center" gap="2">
            <Text fontWeight={600}>{facts.formats[job.kind]?.label ?? job.kind}</Text>
            <Text color="quiet">
              {STATES[job.state]} · {job.done} of {job.total} {job.total === 1 ? "frame" : "frames"}
            </Text>
            <Box flex="1" />
            {isOpen(job) && <Pill onClick={() => void ask(job, "cancel")}>Stop</Pill>}
            {(job.state === "failed" || job.state === "cancelled") && (
              <Pill onClick={() => void ask(job, "again")}>Start again</Pill>
            )}
            {job.state === "done" && (
              <chakra.a
                href={`/api/exports/${job.id}/file`}
                download={job.file}
                display="inline-flex"
                alignItems="center"
                gap="1.5"
                color="act"
                fontWeight={600}
              >
                <Download size={14} /> {job.file}
              </chakra.a>
            )}
          </Flex>
          {isOpen(job) && (
            <Box mt="1.5">
              <ProgressBar label="Export" done={job.done} total={job.total} />
            </Box>
          )}
          {job.state === "done" && job.notes && (
            <Text mt="1" color="quiet" fontSize="row">
              {job.notes}
            </Text>
          )}
          {job.failure && (
            <Text mt="1" color="findingInk" bg="finding" borderRadius="8px" px="2">
              {job.failure}
            </Text>
          )}
        </Box>
      ))}
    </Box>
  );
}

const isOpen = (job: ExportAnswer) => job.state === "queued" || job.state === "running";
