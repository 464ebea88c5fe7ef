import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, need } from "../api/client";
import { Window } from "../fields/Window";
import { timecode } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Box, Flex, Grid, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { setExporting, useExporting } from "../state/exporting";
import { type Asked, heeded } from "./asked";
import { ChoiceRows } from "./ChoiceRows";
import { type Ends, ExportFrames } from "./ExportFrames";
import { ExportJobs } from "./ExportJobs";
import { FormatList } from "./FormatList";
import { KeptChoices } from "./KeptChoices";
import { SamplePicture } from "./SamplePicture";
import { useSample } from "./useSample";

/** Letters of a file's name, without its suffix. */
const LONGEST_NAME = 100;

/** Choose a format, what of it and which frames; see a part of it; watch the exports of this scene and take the files. */
export function ExportDialog() {
  return (
    <Window name="export" title="Export" width="940px">
      <Chooser />
      <ExportJobs />
    </Window>
  );
}

function Chooser() {
  const session = useSession();
  const cache = useQueryClient();
  const facts = useFacts();
  const { scene, revision } = useScene();
  const { kind, choices, takes } = useExporting();
  const [ends, setEnds] = useState<Ends>({ first: timecode(0, scene), last: timecode(scene.length - 1, scene) });
  const [name, setName] = useState(scene.name.slice(0, LONGEST_NAME));
  const [fault, setFault] = useState("");
  const transparent = !scene.background!.endsWith("ff");
  const format = facts.formats[kind];
  const still = format?.still ?? false;
  const frame = session.frames.frame;

  /** What is asked for; an error in words where what is typed is none. */
  const asked = async (): Promise<Asked> => {
    const told = heeded(choices, format?.takes ?? []);
    if (still) return { kind, first: frame, stop: frame + 1, choices: told };
    const [first, last] = await Promise.all([readEnd("First", ends.first), readEnd("Last", ends.last)]);
    if (first < 0 || last >= scene.length || first > last) {
      const whole = [0, scene.length - 1].map((end) => timecode(end, scene)).join(" to ");
      throw new Error(`Frames run from ${whole}, the first not after the last.`);
    }
    return { kind, first, stop: last + 1, choices: told };
  };
  const readEnd = async (which: string, text: string) => {
    try {
      const end = await session.readTime(text);
      if (!Number.isInteger(end)) throw new Error(`“${text}” lies between two frames.`);
      return end;
    } catch (error) {
      throw new Error(`${which} frame: ${(error as Error).message}`);
    }
  };
  const { data: order } = useQuery({
    queryKey: ["export-asked", session.sceneId, kind, choices, ends, frame, scene.length],
    queryFn: () => asked().catch(() => null),
  });
  const sample = useSample(session.sceneId, revision, order ?? null, frame);

  const starting = useRef(false);
  /** Once for each press: a second one before the answer starts no second export. */
  const start = async () => {
    if (starting.current) return;
    starting.current = true;
    try {
      await need(
        api.POST("/api/scenes/{scene_id}/exports", {
          params: { path: { scene_id: session.sceneId } },
          body: { ...(await asked()), name: name.trim() } as never,
        }),
      );
      setFault("");
      void cache.invalidateQueries({ queryKey: ["exports", session.sceneId] });
    } catch (error) {
      setFault((error as Error).message);
    } finally {
      starting.current = false;
    }
  };

  return (
    <Box>
      <Grid templateColumns="minmax(0, 1fr) 440px" gap="6">
        <Box>
          <FormatList formats={facts.formats} kind={kind} set={(kind) => setExporting({ kind })} />
          <Text color="quiet" minHeight="36px" mb="2" aria-live="polite">
            {transparent && !choices.behind ? format?.transparent_note : format?.note}
          </Text>
          <KeptChoices />
        </Box>
        <Box>
          <SamplePicture {...sample} />
          <Box mt="2">
            {still ? <Text>The frame at {timecode(frame, scene)}</Text> : <ExportFrames ends={ends} set={setEnds} />}
          </Box>
          <Box mt="2">
            {format && (
              <ChoiceRows key={`${kind} ${takes}`} format={format} choices={choices} transparent={transparent} />
            )}
          </Box>
        </Box>
      </Grid>
      <Flex align="center" gap="2" mt="3">
        <Text>File name</Text>
        <TextInput
          aria-label="File name"
          value={name}
          maxLength={LONGEST_NAME}
          autoComplete="off"
          spellCheck={false}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && !event.repeat && void start()}
          flex="1"
          minWidth="0"
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
