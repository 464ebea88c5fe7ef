import { chakra, Flex, Text } from "@chakra-ui/react";
import { History, Keyboard, Moon, Pause, Play, Redo2, Repeat, SkipBack, SkipForward, Sun, Undo2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { TimeField } from "../parts/TimeField";
import { fit, zoomToSelection } from "../stage/zoom";
import { isNight, setNight } from "../theme/night";
import { choose, useChoices } from "./choices";
import { useScene } from "./document";
import { useSession } from "./session";
import { timecode } from "./times";
import { ViewMenu } from "./ViewMenu";

const ZOOMS: [string, string][] = [
  ["fit", "Fit"],
  ["0.25", "25 %"],
  ["0.5", "50 %"],
  ["1", "100 %"],
  ["2", "200 %"],
  ["4", "400 %"],
  ["8", "800 %"],
  ["16", "1600 %"],
  ["selection", "Selection"],
];

/** Project and scene, history, transport, view and export. */
export function TopBar({ project }: { project: string }) {
  const session = useSession();
  const { scene, undo, redo } = useScene();
  const playing = useChoices((state) => state.playing);
  const loop = useChoices((state) => state.loop);
  const loopOver = useChoices((state) => state.loopOver);
  const speed = useChoices((state) => state.speed);
  const zoom = useChoices((state) => state.zoom);
  const connected = useChoices((state) => state.connected);
  const known = zoom === null ? "fit" : String(zoom);
  const zooms = ZOOMS.some(([value]) => value === known)
    ? ZOOMS
    : [...ZOOMS, [known, `${Math.round(zoom! * 100)} %`] as [string, string]];
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
      <Flex align="center" gap="2" flex="1" minWidth="0">
        <Link to="/">
          <Text as="span" fontWeight={800} fontSize="17px" color="act" letterSpacing="-0.01em">
            mudskipper
          </Text>
        </Link>
        <Text color="quiet" truncate flexShrink={1} minWidth="20px">
          <Link to="/">{project}</Link>
        </Text>
        <Text color="ink" fontWeight={700} truncate flexShrink={0} maxWidth="140px" title={scene.name}>
          › {scene.name}
        </Text>
        <Pill
          label={undo ? `Undo: ${undo}` : "Nothing to undo"}
          px="2"
          disabled={!undo}
          onClick={() => void session.undo()}
          data-testid="undo"
        >
          <Undo2 size={14} />
        </Pill>
        <Pill
          label={redo ? `Redo: ${redo}` : "Nothing to redo"}
          px="2"
          disabled={!redo}
          onClick={() => void session.redo()}
          data-testid="redo"
        >
          <Redo2 size={14} />
        </Pill>
        <Pill label="History of this scene" look="bare" onClick={() => choose({ dialog: "history" })}>
          <History size={15} />
        </Pill>
        {!connected && (
          <Text bg="finding" color="findingInk" borderRadius="full" px="2.5" fontSize="12px" whiteSpace="nowrap">
            Line lost, reconnecting…
          </Text>
        )}
      </Flex>
      <Flex align="center" gap="1.5">
        <Pill px="2" label="One frame back (,)" onClick={() => session.frames.seek(session.frames.frame - 1)}>
          <SkipBack size={13} />
        </Pill>
        <Pill
          look="ink"
          width="80px"
          onClick={() => choose({ playing: !playing })}
          title="Play or pause (Space)"
          data-testid="play"
        >
          {playing ? <Pause size={13} /> : <Play size={13} />} {playing ? "Pause" : "Play"}
        </Pill>
        <Pill px="2" label="One frame on (.)" onClick={() => session.frames.seek(session.frames.frame + 1)}>
          <SkipForward size={13} />
        </Pill>
        <PlayheadField />
        <chakra.span color="quiet" whiteSpace="nowrap">
          / {timecode(scene.length, scene)}
        </chakra.span>
        <Select
          label="Speed"
          width="70px"
          value={String(speed)}
          onChange={(value) => choose({ speed: Number(value) })}
          options={[
            ["1", "full"],
            ["0.5", "half"],
            ["0.25", "quarter"],
          ]}
        />
        <Pill
          look={loop ? "on" : "plain"}
          label="Loop (L)"
          px="2"
          aria-pressed={loop}
          onClick={() => choose({ loop: !loop })}
        >
          <Repeat size={13} />
        </Pill>
        <Select
          label="Play over"
          width="76px"
          value={loopOver}
          onChange={(value) => choose({ loopOver: value as typeof loopOver })}
          options={[
            ["all", "all"],
            ["span", "span"],
            ["keys", "keys"],
            ["range", "range"],
          ]}
        />
      </Flex>
      <Flex align="center" gap="1.5" flex="1" justify="flex-end">
        <Select
          label="Zoom"
          width="72px"
          value={known}
          options={zooms}
          onChange={(value) => {
            if (value === "fit") fit();
            else if (value === "selection") zoomToSelection(session);
            else choose({ zoom: Number(value) });
          }}
        />
        <ViewMenu />
        <Pill label="Keys and gestures (?)" look="bare" onClick={() => choose({ dialog: "keys" })}>
          <Keyboard size={15} />
        </Pill>
        <NightSwitch />
        <Pill look="act" onClick={() => choose({ dialog: "export" })}>
          Export
        </Pill>
      </Flex>
    </Flex>
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

export function NightSwitch() {
  const [night, set] = useState(isNight());
  return (
    <Pill
      label={night ? "Day theme" : "Night theme"}
      look="bare"
      onClick={() => {
        setNight(!night);
        set(!night);
      }}
    >
      {night ? <Sun size={15} /> : <Moon size={15} />}
    </Pill>
  );
}
