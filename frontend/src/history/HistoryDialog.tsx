import { useQueries, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { api, type HistoryAnswer, need } from "../api/client";
import { Window } from "../fields/Window";
import { Box, chakra, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

/** The steps of the scene in words, oldest first; press one to go there. They survive a restart. */
export function HistoryDialog() {
  return (
    <Window name="history" title="History of this scene" width="460px">
      <Steps />
    </Window>
  );
}

const HEIGHT = 30;
const PAGE = 100;

/** Thousands of steps: only those near the view are fetched and drawn. */
function Steps() {
  const session = useSession();
  const { revision } = useScene();
  const list = useRef<HTMLDivElement>(null);
  const path = { scene_id: session.sceneId };
  const ask = (first?: number) => ({
    queryKey: ["history", session.sceneId, revision, first],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/history", { params: { path, query: { first, count: PAGE } } })),
    placeholderData: (before: HistoryAnswer | undefined) => before,
  });
  const { data: around } = useQuery(ask());
  const rows = useVirtualizer({
    count: around?.total ?? 0,
    getScrollElement: () => list.current,
    estimateSize: () => HEIGHT,
    overscan: 6,
  });
  const shown = rows.getVirtualItems();
  const firsts = [...new Set(shown.map((row) => Math.floor(row.index / PAGE) * PAGE))];
  const more = useQueries({ queries: firsts.filter((first) => first !== around?.first).map(ask) });
  const pages = [around, ...more.map((page) => page.data)].filter((page) => page !== undefined);
  const here = around?.here;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step that the scene stands at comes into view
  useEffect(() => {
    if (here !== undefined) rows.scrollToIndex(here, { align: "center" });
  }, [here]);
  return (
    <Box ref={list} height={`${Math.min(420, rows.getTotalSize())}px`} overflowY="auto">
      <Box role="list" aria-label="Steps" position="relative" height={`${rows.getTotalSize()}px`}>
        {shown.map(({ index, start }) => {
          const page = pages.find(({ first, steps }) => first <= index && index < first + steps.length);
          const step = page?.steps[index - page.first];
          return (
            <Box key={index} role="listitem" position="absolute" width="100%" transform={`translateY(${start}px)`}>
              {step && <Step step={step} here={index === here} undone={index > here!} />}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

function Step({ step, here, undone }: { step: HistoryAnswer["steps"][number]; here: boolean; undone: boolean }) {
  const session = useSession();
  return (
    <chakra.button
      type="button"
      aria-current={here ? "step" : undefined}
      display="flex"
      alignItems="center"
      width="100%"
      height={`${HEIGHT}px`}
      gap="3"
      px="3"
      borderRadius="8px"
      textAlign="left"
      cursor="pointer"
      bg={here ? "actWash" : undefined}
      opacity={undone ? 0.55 : 1}
      _hover={{ bg: "panel" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "-2px" }}
      onClick={() => void session.goTo(step.revision)}
    >
      <Text flex="1" fontWeight={here ? 700 : 500} truncate title={step.words}>
        {step.words}
      </Text>
      <Text color="quiet" fontSize="row" whiteSpace="nowrap">
        {new Date(step.made_at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}
      </Text>
    </chakra.button>
  );
}
