import {
  Ellipsis,
  History,
  Pause,
  Play,
  Redo2,
  Repeat,
  Search,
  SkipBack,
  SkipForward,
  Undo2,
  Volume2,
  VolumeX,
} from "lucide-react";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { ChecksMenu } from "../checks/ChecksMenu";
import { runs } from "../document/contents";
import { TimeField } from "../fields/TimeField";
import { timecode } from "../geometry/times";
import { NightSwitch } from "../parts/NightSwitch";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { Select } from "../parts/Select";
import { Switch } from "../parts/Switch";
import { chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { comeOut, stepsTo, useTrail } from "../session/trail";
import { useScene } from "../session/useScene";
import { setPage, usePage } from "../state/page";
import { setPlayback, usePlayback } from "../state/playback";
import { setSceneView, useSceneView } from "../state/sceneView";
import { useHeard } from "./useHeard";
import { ViewMenu } from "./ViewMenu";

/** Project and scene, history, transport, view and export. */
export function TopBar({ project }: { project: string }) {
  const session = useSession();
  const { scene, undo, redo } = useScene();
  const playing = usePlayback((state) => state.playing);
  const loop = usePlayback((state) => state.loop);
  const connected = usePage((state) => state.connected);
  const narrow = useNarrow();
  const all = useTrail((state) => state.steps);
  const steps = stepsTo(all, session.sceneId);
  return (
    <Flex
      as="header"
      height="44px"
      flex="none"
      align="center"
      gap="2"
      px="3.5"
      borderBottomWidth="1px"
      borderColor="edge"
      bg="paper"
    >
      <Flex align="center" gap="2" flex="1" minWidth={narrow || steps.length ? "0" : "max-content"}>
        <Link to="/">
          <Text as="span" fontWeight={700} fontSize="name" color="act" letterSpacing="-0.01em">
            mudskipper
          </Text>
        </Link>
        {!narrow && !steps.length && (
          <Text color="quiet" truncate flexShrink={1} minWidth="20px" maxWidth="160px" title={project}>
            <Link to="/">{project}</Link>
          </Text>
        )}
        {steps.map((step) => (
          <chakra.button
            key={step.scene}
            type="button"
            cursor="pointer"
            color="quiet"
            truncate
            minWidth="24px"
            flexShrink={1}
            title={`Come out to ${step.name}`}
            onClick={() => comeOut(step)}
            _hover={{ color: "act" }}
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          >
            › {step.name}
          </chakra.button>
        ))}
        <Text color="ink" fontWeight={700} truncate flexShrink={narrow ? 1 : 0} maxWidth="140px" title={scene.name}>
          › {scene.name}
        </Text>
        <Pill
          look="bare"
          label={undo ? `Undo: ${undo}` : "Nothing to undo"}
          px="1.5"
          disabled={!undo}
          onClick={() => void session.undo()}
          flexShrink={0}
          data-testid="undo"
        >
          <Undo2 size={14} />
        </Pill>
        <Pill
          look="bare"
          label={redo ? `Redo: ${redo}` : "Nothing to redo"}
          px="1.5"
          disabled={!redo}
          onClick={() => void session.redo()}
          flexShrink={0}
          data-testid="redo"
        >
          <Redo2 size={14} />
        </Pill>
        <Pill label="Find anything (Ctrl K)" look="bare" flexShrink={0} onClick={() => setPage({ dialog: "find" })}>
          <Search size={15} />
        </Pill>
        <Pill label="History of this scene" look="bare" flexShrink={0} onClick={() => setPage({ dialog: "history" })}>
          <History size={15} />
        </Pill>
        {!connected && (
          <Text
            title="Line lost, reconnecting…"
            truncate
            minWidth="24px"
            bg="finding"
            color="findingInk"
            borderRadius="full"
            px="2.5"
            fontSize="row"
          >
            Line lost, reconnecting…
          </Text>
        )}
      </Flex>
      <Flex align="center" gap="1.5">
        <Pill
          look="bare"
          px="2"
          label="One frame back (,)"
          onClick={() => session.frames.seek(session.frames.frame - 1)}
        >
          <SkipBack size={13} />
        </Pill>
        <Pill
          look="ink"
          width="80px"
          onClick={() => setPlayback({ playing: !playing })}
          title="Play or pause (Space)"
          data-testid="play"
        >
          {playing ? <Pause size={13} /> : <Play size={13} />} {playing ? "Pause" : "Play"}
        </Pill>
        <Pill look="bare" px="2" label="One frame on (.)" onClick={() => session.frames.seek(session.frames.frame + 1)}>
          <SkipForward size={13} />
        </Pill>
        <PlayheadField />
        <chakra.span color="quiet" whiteSpace="nowrap">
          / {timecode(scene.length, scene)}
        </chakra.span>
        {!narrow && <Speed />}
        <Pill
          look={loop ? "on" : "bare"}
          label="Loop (L)"
          px="1.5"
          aria-pressed={loop}
          onClick={() => setPlayback({ loop: !loop })}
        >
          <Repeat size={13} />
        </Pill>
        {!narrow && <PlayOver />}
        <SoundButton />
      </Flex>
      <Flex align="center" gap="1.5" flex="1" justify="flex-end">
        <ViewMenu />
        <ChecksMenu />
        {narrow ? (
          <More />
        ) : (
          <>
            <KeysButton />
            <NightSwitch />
          </>
        )}
        <Pill look="act" onClick={() => setPage({ dialog: "export" })}>
          Export
        </Pill>
      </Flex>
    </Flex>
  );
}

/** Whether the scene's sound is heard, shown where it has clips or sounds. */
function SoundButton() {
  const { scene } = useScene();
  const sound = usePlayback((state) => state.sound);
  const slow = usePlayback((state) => state.slowSound);
  const heard = useHeard();
  if (!(scene.layers ?? []).some(({ content }) => runs(content)) && !heard.length) return null;
  return (
    <Popover
      label="Sound"
      width="230px"
      placement="bottom"
      testId="sound-menu"
      trigger={
        <Pill px="2" look={sound ? "on" : "plain"} label={sound ? "Sound is on" : "Sound is off"}>
          {sound ? <Volume2 size={13} /> : <VolumeX size={13} />}
        </Pill>
      }
    >
      {() => (
        <Flex direction="column" gap="2">
          <Switch text="Sound while playing" on={sound} set={(on) => setPlayback({ sound: on })} />
          <Switch text="Also at half and quarter speed" on={slow} set={(on) => setPlayback({ slowSound: on })} />
        </Flex>
      )}
    </Popover>
  );
}

const NARROW = "(max-width: 1279px)";

/** Whether the window is too narrow for the whole bar. */
function useNarrow(): boolean {
  const [narrow, set] = useState(() => matchMedia(NARROW).matches);
  useEffect(() => {
    const media = matchMedia(NARROW);
    const hear = () => set(media.matches);
    media.addEventListener("change", hear);
    return () => media.removeEventListener("change", hear);
  }, []);
  return narrow;
}

/** What a narrow window has no room for. */
function More() {
  return (
    <Popover
      label="More"
      width="250px"
      placement="bottom-end"
      testId="more"
      trigger={
        <Pill label="More: speed, range, theme, keys" look="bare">
          <Ellipsis size={16} />
        </Pill>
      }
    >
      {(close) => (
        <Flex direction="column" gap="1.5">
          {(
            [
              ["Speed", Speed],
              ["Play over", PlayOver],
              ["Theme", NightSwitch],
            ] as const
          ).map(([label, Control]) => (
            <Flex key={label} align="center" justify="space-between">
              <Text>{label}</Text>
              <Control />
            </Flex>
          ))}
          <Flex align="center" justify="space-between" onClick={close}>
            <Text>Keys and gestures</Text>
            <KeysButton />
          </Flex>
        </Flex>
      )}
    </Popover>
  );
}

function Speed() {
  const speed = usePlayback((state) => state.speed);
  return (
    <Select
      label="Speed"
      width="92px"
      value={String(speed)}
      onChange={(value) => setPlayback({ speed: Number(value) })}
      options={[
        ["1", "Speed full"],
        ["0.5", "Speed half"],
        ["0.25", "Speed quarter"],
      ]}
    />
  );
}

function PlayOver() {
  const loopOver = useSceneView((state) => state.loopOver);
  return (
    <Select
      label="Play over"
      width="88px"
      value={loopOver}
      onChange={(value) => setSceneView({ loopOver: value as typeof loopOver })}
      options={[
        ["all", "Over all"],
        ["span", "Over span"],
        ["keys", "Over keys"],
        ["range", "Over range"],
      ]}
    />
  );
}

function KeysButton() {
  return (
    <Pill label="Keys and gestures (?)" look="bare" onClick={() => setPage({ dialog: "keys" })}>
      <chakra.span fontSize="name" fontWeight={700} lineHeight="1">
        ?
      </chakra.span>
    </Pill>
  );
}

/** The playhead's time, painted by itself; type a time to go there. */
function PlayheadField() {
  const session = useSession();
  return (
    <TimeField
      label="Playhead"
      frame={() => session.frames.frame}
      width="58px"
      keep={(to) => session.frames.seek(to)}
    />
  );
}
