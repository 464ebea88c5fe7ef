import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Group, Panel as Part, Separator, useDefaultLayout } from "react-resizable-panels";
import { useNavigate, useParams } from "react-router";
import { api, type Layer, need, type RemovedItem } from "../api/client";
import { renewedWords } from "../api/renew";
import { Compare } from "../compare/Compare";
import { layerAt } from "../document/items";
import { EasingDialog } from "../easing/EasingDialog";
import { ExportDialog } from "../export/ExportDialog";
import { Message } from "../fields/Message";
import { FindWindow } from "../find/FindWindow";
import { HistoryDialog } from "../history/HistoryDialog";
import { EditValuesDialog } from "../lanes/EditValuesDialog";
import { Lanes } from "../lanes/Lanes";
import { ExplainDialog } from "../panel/ExplainDialog";
import { Panel } from "../panel/Panel";
import { FloatMenu } from "../parts/FloatMenu";
import { Box, Flex, Text } from "../parts/styled";
import { play } from "../play/player";
import { PoseStrip } from "../poses/PoseStrip";
import { LEAST, ONE_LINE, useStripRoom } from "../poses/useStripRoom";
import { PROJECTS } from "../session/projects";
import { recall, remember, remembered } from "../session/sceneMemory";
import { Session, SessionContext, useSession } from "../session/session";
import { openScenesBy } from "../session/trail";
import { FACTS, useScene } from "../session/useScene";
import { ArtDialog } from "../shelf/ArtDialog";
import { NumberedDialog } from "../shelf/NumberedDialog";
import { PutIntoDialog } from "../shelf/PutIntoDialog";
import { Shelf, useShelfRoom } from "../shelf/Shelf";
import { Stage } from "../stage/Stage";
import { useHabits } from "../state/habits";
import { say, setPage, usePage } from "../state/page";
import { setPlayback, usePlayback } from "../state/playback";
import { select, selection, setSelection, useSelection } from "../state/selection";
import { setViewport } from "../state/viewport";
import { openViewSettings } from "../state/viewSettings";
import { TitlesWindow } from "../titles/TitlesWindow";
import { COMMANDS } from "./commands";
import { KeysDialog } from "./KeysDialog";
import { useKeyboard } from "./keyboard";
import { RemovedScene, removedOf } from "./RemovedScene";
import { TopBar } from "./TopBar";
import { useFilesIn } from "./useFilesIn";
import { useHeard } from "./useHeard";
import { useLanesRoom } from "./useLanesRoom";

/** Opens a scene: its document and first frames, then the main view. */
export function ScenePage() {
  const { sceneId = "" } = useParams();
  const cache = useQueryClient();
  const [session, setSession] = useState<Session | null>(null);
  const [fault, setFault] = useState("");
  const [removed, setRemoved] = useState<RemovedItem | null>(null);
  const [opened, setOpened] = useState(0);
  const navigate = useNavigate();
  useEffect(() => openScenesBy((address) => void navigate(address)), [navigate]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: opened again once it is brought back
  useEffect(() => {
    const opening = new Session(sceneId, cache);
    let gone = false;
    const asked = new URLSearchParams(location.search);
    setSelection({ selected: [], keys: [], renaming: null, editing: null, pathKey: null, finding: null });
    setPlayback({ playing: false });
    setViewport({ zoom: null, centre: null });
    setPage({ said: null, dialog: null, drawer: asked.has("slots") ? "slots" : null });
    setFault("");
    setRemoved(null);
    const memory = remembered(sceneId);
    let forget = () => {};
    recall(memory);
    openViewSettings(sceneId);
    const facts = cache.fetchQuery(FACTS);
    void cache.prefetchQuery(PROJECTS);
    need(api.GET("/api/scenes/{scene_id}", { params: { path: { scene_id: sceneId } } }))
      .then(async (answer) => {
        // What is a picture, what a film, and what is neither: nothing is fetched or painted before that is known.
        await facts;
        const frame = asked.has("frame") ? Number(asked.get("frame")) || 0 : memory.frame;
        opening.fetchPictures((answer.scene.layers ?? []) as Layer[]);
        await opening.frames.open(answer.scene.length, frame);
        const lost = await removedOf(sceneId, answer.project);
        if (gone) return;
        if (lost) {
          setRemoved(lost);
          return;
        }
        cache.setQueryData(opening.key, answer);
        opening.tidy();
        forget = remember(sceneId, opening.frames);
        const layer = asked.get("layer");
        if (layer && layerAt(answer.scene.layers as Layer[], layer)) select(layer);
        setSession(opening);
        const renewed = renewedWords();
        if (renewed) say(renewed);
      })
      .catch((error) => setFault((error as Error).message));
    return () => {
      gone = true;
      forget();
      opening.close();
      setSession(null);
    };
  }, [sceneId, cache, opened]);

  if (removed) return <RemovedScene item={removed} back={() => setOpened(opened + 1)} />;
  if (fault) return <Text p="8">{fault}</Text>;
  if (!session) return <Text p="8">Opening the scene…</Text>;
  return (
    <SessionContext.Provider value={session}>
      <MainView />
    </SessionContext.Provider>
  );
}

function MainView() {
  const session = useSession();
  const navigate = useNavigate();
  const go = useCallback((address: string) => void navigate(address), [navigate]);
  const { scene, project } = useScene();
  const playing = usePlayback((state) => state.playing);
  useKeyboard(session);
  useHeard();
  useEffect(() => (playing ? play(session) : undefined), [playing, session]);
  useAddress(session.sceneId);
  const { data: projects } = useQuery(PROJECTS);
  const name = projects?.find((one) => one.id === project)?.name ?? "Project";
  useEffect(() => {
    document.title = `${scene.name} · ${name} · Mudskipper`;
  }, [scene.name, name]);
  const strip = useStripRoom();
  const numbers = useHabits((state) => state.poseFace === "numbers");
  const shelf = useShelfRoom();
  const { lanes, room, pulled, release } = useLanesRoom(strip);
  const rows = useDefaultLayout({ id: "mudskipper.rows.5", storage: localStorage });
  // In pixels: a larger window gives the picture more room, and the panel no more than it had.
  const [width] = useState(() => Number(localStorage.getItem(WIDTH)) || 306);
  return (
    <Flex direction="column" height="100vh" overflow="hidden">
      <TopBar project={name} />
      <Group orientation="horizontal" style={{ flex: 1, minHeight: 0 }}>
        <Part id="work-part" minSize={400} style={{ position: "relative" }}>
          <Shelf />
          <Box height="100%" pl={shelf.all}>
            <Group orientation="vertical" style={{ height: "100%" }} {...rows}>
              <Part id="upper-part" minSize={180}>
                <Flex height="100%">
                  <Box width={shelf.beside} flex="none" bg="paper" borderRightWidth="1px" borderColor="edge" />
                  <Box flex="1" minWidth="0">
                    <DropStage />
                  </Box>
                </Flex>
              </Part>
              <Grip label="Height of the pose strip" row pulled={pulled} release={release} />
              <Part
                id="poses-part"
                panelRef={strip}
                collapsible
                groupResizeBehavior="preserve-pixel-size"
                collapsedSize={ONE_LINE}
                minSize={LEAST}
                maxSize={numbers ? 420 : 150}
                defaultSize={ONE_LINE}
              >
                <PoseStrip />
              </Part>
              <Grip label="Height of the lanes" row pulled={pulled} release={release} />
              <Part
                id="lanes-part"
                panelRef={lanes}
                minSize={90}
                defaultSize={room}
                groupResizeBehavior="preserve-pixel-size"
              >
                <Lanes />
              </Part>
            </Group>
          </Box>
        </Part>
        <Grip label="Width of the panel" />
        <Part
          id="panel-part"
          minSize={290}
          maxSize={480}
          defaultSize={width}
          groupResizeBehavior="preserve-pixel-size"
          onResize={({ inPixels }) => localStorage.setItem(WIDTH, `${Math.round(inPixels)}`)}
        >
          <Panel />
        </Part>
      </Group>
      <ExportDialog />
      <NumberedDialog />
      <KeysDialog />
      <ExplainDialog />
      <EditValuesDialog />
      <HistoryDialog />
      <EasingDialog />
      <ArtDialog />
      <PutIntoDialog />
      <TitlesWindow />
      <FindWindow commands={COMMANDS} go={go} />
      <FloatMenu />
    </Flex>
  );
}

const WIDTH = "mudskipper.panel";

interface GripProps {
  label: string;
  row?: boolean;
  pulled?: () => void;
  release?: () => void;
}

function Grip({ label, row, pulled, release }: GripProps) {
  return (
    <Box
      as={Separator}
      // A press that moves nothing pulls nothing.
      onPointerDown={() => {
        if (!pulled) return;
        const stop = () => removeEventListener("pointermove", pulled);
        addEventListener("pointermove", pulled, { once: true });
        addEventListener("pointerup", stop, { once: true });
        addEventListener("pointercancel", stop, { once: true });
      }}
      onKeyDown={({ key }: React.KeyboardEvent) => key.startsWith("Arrow") && pulled?.()}
      onDoubleClick={release}
      title={release && "Double click: their own height again"}
      aria-label={label}
      bg="edge"
      width={row ? "100%" : "3px"}
      height={row ? "3px" : "100%"}
      _hover={{ bg: "act" }}
      _focusVisible={{ bg: "act", outline: "none" }}
    />
  );
}

/** The stage, and on it where files come in that are held over the window. */
function DropStage() {
  const session = useSession();
  const over = useFilesIn();
  const full = usePage((state) => state.full);
  const all = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!full) return;
    // Who goes on to what lies under it by Tab, or opens something else, sees it.
    const leave = ({ target }: FocusEvent) => all.current?.contains(target as Node) || setPage({ full: false });
    addEventListener("focusin", leave);
    return () => removeEventListener("focusin", leave);
  }, [full]);
  useEffect(() => () => setPage({ full: false }), []);
  return (
    <Box
      ref={all}
      height="100%"
      position={full ? "fixed" : "relative"}
      inset="0"
      zIndex={full ? "docked" : undefined}
      data-full={full ? "yes" : undefined}
    >
      <Stage />
      <Compare />
      <Message within undo={() => void session.undo()} make={(edits) => void session.edit(...edits)} />
      {over && (
        <Flex
          position="absolute"
          inset="3"
          borderWidth="2px"
          borderStyle="dashed"
          borderColor="act"
          borderRadius="14px"
          bg="actWash"
          opacity={0.9}
          align="center"
          justify="center"
          pointerEvents="none"
        >
          <Text fontWeight={600}>
            Drop files to take them in: pictures, films, sounds, SVG, PDF, fonts, subtitles, tables, timelines,
            animations
          </Text>
        </Flex>
      )}
    </Box>
  );
}

/** Keeps the address pointing at the frame and layer, so that a reload or a link comes back to them. */
function useAddress(sceneId: string) {
  const session = useSession();
  useEffect(() => {
    let timer = 0;
    const write = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        // Another scene may have been gone into meanwhile: its address is its own.
        if (location.pathname !== `/scene/${sceneId}`) return;
        const { selected } = selection();
        const query = new URLSearchParams({ frame: String(session.frames.frame) });
        if (selected.length === 1) query.set("layer", selected[0]);
        history.replaceState(history.state, "", `/scene/${sceneId}?${query}`);
      }, 250);
    };
    const stops = [session.frames.subscribe(write), useSelection.subscribe(write)];
    return () => {
      window.clearTimeout(timer);
      for (const stop of stops) stop();
    };
  }, [session, sceneId]);
}
