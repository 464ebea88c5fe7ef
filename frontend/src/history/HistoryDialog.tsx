import { Box, chakra, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, need } from "../api/client";
import { Window } from "../parts/Window";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";

/** The steps of the scene in words, oldest first; press one to go there. They survive a restart. */
export function HistoryDialog() {
  return (
    <Window name="history" title="History of this scene" width="460px">
      <Steps />
    </Window>
  );
}

function Steps() {
  const session = useSession();
  const { revision } = useScene();
  const here = useRef<HTMLButtonElement>(null);
  const path = { scene_id: session.sceneId };
  const { data = [] } = useQuery({
    queryKey: ["history", session.sceneId, revision],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/history", { params: { path } })),
    placeholderData: (before) => before,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step that the scene stands at comes into view
  useEffect(() => {
    void here.current?.scrollIntoView({ block: "center" });
  }, [data]);
  const place = data.findIndex((step) => step.here);
  return (
    <Box maxHeight="420px" overflowY="auto" role="list" aria-label="Steps">
      {data.map((step, i) => (
        <Box key={step.revision} role="listitem">
          <chakra.button
            ref={step.here ? here : undefined}
            type="button"
            aria-current={step.here ? "step" : undefined}
            display="flex"
            width="100%"
            gap="3"
            px="3"
            py="1"
            borderRadius="8px"
            textAlign="left"
            cursor="pointer"
            bg={step.here ? "actWash" : undefined}
            opacity={i > place ? 0.55 : 1}
            _hover={{ bg: "panel" }}
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
            onClick={() => void session.goTo(step.revision)}
          >
            <Text flex="1" fontWeight={step.here ? 700 : 500}>
              {step.words}
            </Text>
            <Text color="quiet" fontSize="12px" whiteSpace="nowrap">
              {new Date(step.made_at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}
            </Text>
          </chakra.button>
        </Box>
      ))}
    </Box>
  );
}
