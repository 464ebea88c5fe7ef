import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useRef, useState } from "react";
import { api, type ExportAnswer, need } from "../api/client";
import { Window } from "../fields/Window";
import { timecode } from "../geometry/times";
import { walkByArrows } from "../parts/arrowWalk";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, chakra, Flex, Grid, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { framesOver } from "../play/player";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { sayProblem } from "../state/page";

type Over = "all" | "span" | "range" | "keys";

const OVERS: Record<Over, string> = {
  all: "whole scene",
  span: "selected span",
  range: "marked range",
  keys: "selected keys",
};

/** Letters of a file's name, without its suffix. */
const LONGEST_NAME = 100;

const GROUPS = [
  ["film", "Films"],
  ["moving picture", "Moving pictures"],
  ["still", "Stills"],
] as const;

/** Choose a format and frames, watch the exports of this scene, stop them, take the files. */
export function ExportDialog() {
  return (
    <Window name="export" title="Export" width="760px">
      <Chooser />
      <Jobs />
    </Window>
  );
}

function Chooser() {
  const session = useSession();
  const cache = useQueryClient();
  const facts = useFacts();
  const { scene } = useScene();
  const [kind, setKind] = useState("webm");
  const [first, setFirst] = useState(timecode(0, scene));
  const [last, setLast] = useState(timecode(scene.length - 1, scene));
  const [name, setName] = useState(scene.name.slice(0, LONGEST_NAME));
  const [fault, setFault] = useState("");
  const [over, setOver] = useState<Over>("all");
  const overs = (["all", "span", "range", "keys"] as const).filter((which) => framesOver(session, which));
  const transparent = !scene.background!.endsWith("ff");
  const format = facts.formats[kind];
  const still = format?.still ?? false;
  const frame = session.frames.frame;

  const choose = (which: Over) => {
    const [from, to] = framesOver(session, which) ?? [0, scene.length - 1];
    setFirst(timecode(from, scene));
    setLast(timecode(to, scene));
    setOver(which);
  };

  const starting = useRef(false);
  /** Once for each press: a second one before the answer starts no second export. */
  const start = async () => {
    if (starting.current) return;
    starting.current = true;
    await ask().finally(() => {
      starting.current = false;
    });
  };

  const ask = async () => {
    let [from, to] = [frame, frame];
    if (!still) {
      const ends: number[] = [];
      for (const [name, text] of [["First", first] as const, ["Last", last] as const]) {
        try {
          const end = await session.readTime(text);
          if (!Number.isInteger(end)) throw new Error(`“${text}” lies between two frames.`);
          ends.push(end);
        } catch (error) {
          setFault(`${name} frame: ${(error as Error).message}`);
          return;
        }
      }
      [from, to] = ends;
    }
    if (from < 0 || to >= scene.length || from > to) {
      const ends = [0, scene.length - 1].map((end) => timecode(end, scene)).join(" to ");
      setFault(`Frames run from ${ends}, the first not after the last.`);
      return;
    }
    try {
      await need(
        api.POST("/api/scenes/{scene_id}/exports", {
          params: { path: { scene_id: session.sceneId } },
          body: { kind, first: from, stop: to + 1, name: name.trim() },
        }),
      );
      setFault("");
      void cache.invalidateQueries({ queryKey: ["exports", session.sceneId] });
    } catch (error) {
      setFault((error as Error).message);
    }
  };

  return (
    <Box>
      <Box
        role="radiogroup"
        aria-label="Format"
        onKeyDown={(event: React.KeyboardEvent<HTMLElement>) => walkByArrows(event, (format) => format.click())}
      >
        {GROUPS.map(([group, title]) => (
          <Box key={group} role="group" aria-label={title} mb="2.5">
            <Text fontSize="title" fontWeight={600} mb="1">
              {title}
            </Text>
            <Grid gap="2" templateColumns="repeat(auto-fill, minmax(164px, 1fr))">
              {Object.entries(facts.formats)
                .filter(([, format]) => format.group === group)
                .map(([name, { label, alpha, sound }]) => (
                  <chakra.button
                    key={name}
                    type="button"
                    role="radio"
                    aria-checked={kind === name}
                    tabIndex={kind === name ? 0 : -1}
                    textAlign="left"
                    px="2.5"
                    py="1.5"
                    borderRadius="control"
                    borderWidth="1px"
                    borderColor={kind === name ? "act" : "field"}
                    bg={kind === name ? "actWash" : "well"}
                    cursor="pointer"
                    onClick={() => setKind(name)}
                    _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
                  >
                    <Text fontWeight={600} truncate>
                      {label}
                    </Text>
                    <Text color={kind === name ? "ink" : "quiet"} fontSize="caption">
                      {`${scene.width} × ${scene.height}`}
                      <br />
                      {group !== "still" && (sound ? "sound · " : "silent · ")}
                      {alpha ? "transparent" : "opaque"}
                    </Text>
                  </chakra.button>
                ))}
            </Grid>
          </Box>
        ))}
      </Box>
      <Text color="quiet" minHeight="36px" aria-live="polite">
        {transparent ? format?.transparent_note : format?.note}
      </Text>
      <Flex align="center" gap="2" mt="2" flexWrap="wrap">
        {still ? (
          <Text>The frame at {timecode(frame, scene)}</Text>
        ) : (
          <>
            <Select
              label="Frames of"
              width="118px"
              value={over}
              options={overs.map((which): [string, string] => [which, OVERS[which]])}
              onChange={(which) => choose(which as Over)}
            />
            <FrameInput label="First frame" value={first} set={setFirst} />
            <Text>to</Text>
            <FrameInput label="Last frame" value={last} set={setLast} />
            <Text color="quiet">
              of {timecode(scene.length, scene)} · {scene.length} frames
            </Text>
          </>
        )}
        <Box flex="1" />
      </Flex>
      <Flex align="center" gap="2" mt="2">
        <Text width="62px">File name</Text>
        <TextInput
          aria-label="File name"
          value={name}
          maxLength={LONGEST_NAME}
          autoComplete="off"
          spellCheck={false}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && !event.repeat && void start()}
          flex="1"
        />
        <Text color="quiet" width="48px">
          {format?.suffix}
        </Text>
        <Pill look="act" onClick={() => void start()}>
          Start export
        </Pill>
      </Flex>
      {fault && (
        <Text role="alert" mt="2" bg="finding" color="findingInk" borderRadius="10px" px="3" py="1.5">
          {fault}
        </Text>
      )}
    </Box>
  );
}

function FrameInput({ label, value, set }: { label: string; value: string; set: (value: string) => void }) {
  return (
    <TextInput
      aria-label={label}
      value={value}
      inputMode="numeric"
      onChange={(event) => set(event.target.value)}
      width="64px"
    />
  );
}

const STATES: Record<ExportAnswer["state"], string> = {
  queued: "waiting",
  running: "rendering",
  done: "done",
  failed: "failed",
  cancelled: "stopped",
};

function Jobs() {
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
            <Box
              mt="1.5"
              height="7px"
              borderRadius="full"
              bg="panel"
              overflow="hidden"
              role="progressbar"
              aria-label="Export"
              aria-valuemin={0}
              aria-valuemax={job.total}
              aria-valuenow={job.done}
            >
              <Box height="100%" bg="act" width={`${(100 * job.done) / job.total}%`} transition="width 0.3s" />
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
