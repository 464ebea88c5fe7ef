import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Edit, need, type Unseen } from "../api/client";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { usePlayback } from "../state/playback";

/** The frame at which the playhead has come to rest. */
export function useRestingFrame(wait = 160): number {
  const session = useSession();
  const [frame, setFrame] = useState(session.frames.frame);
  useEffect(() => {
    let timer = 0;
    const rest = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setFrame(session.frames.frame), wait);
    };
    const stop = session.frames.subscribe(rest);
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, [session, wait]);
  return frame;
}

/** The revision at which edits have come to rest: what is asked for each would hold up those that follow fast. */
export function useRestingRevision(wait = 220): number {
  const { revision } = useScene();
  const [rested, setRested] = useState(revision);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(revision), wait);
    return () => window.clearTimeout(timer);
  }, [revision, wait]);
  return rested;
}

/** The layers of which nothing shows where the playhead rests, and why; the painted picture is looked at for one. */
export function useUnseen(layer?: string): Unseen[] {
  const session = useSession();
  const revision = useRestingRevision();
  const playing = usePlayback((state) => state.playing);
  const frame = useRestingFrame();
  const path = { scene_id: session.sceneId };
  const { data } = useQuery({
    queryKey: ["unseen", session.sceneId, revision, frame, layer ?? ""],
    queryFn: () => need(api.GET("/api/scenes/{scene_id}/unseen", { params: { path, query: { frame, layer } } })),
    enabled: !playing,
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  return data ?? [];
}

/** Why the selected layer shows nothing here, and the mend. */
export function UnseenNote({ layer }: { layer: string }) {
  const session = useSession();
  const found = useUnseen(layer).find((one) => one.layer === layer);
  if (!found) return null;
  const mend = found.edits.length
    ? { text: "Fix it", act: () => void session.edit(...(found.edits as unknown as Edit[])) }
    : found.go != null
      ? { text: "Go there", act: () => session.frames.seek(found.go!) }
      : null;
  return (
    <Flex
      role="note"
      data-testid="unseen"
      align="center"
      gap="2"
      bg="finding"
      color="findingInk"
      borderRadius="control"
      px="2"
      py="1"
      mb="2"
      fontSize="row"
    >
      <Text flex="1">{found.sentence}</Text>
      {mend && (
        <Pill height="control" px="2" fontSize="row" onClick={mend.act}>
          {mend.text}
        </Pill>
      )}
    </Flex>
  );
}
