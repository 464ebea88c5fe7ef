import { useState } from "react";
import type { Edit } from "../api/client";
import { TimeField } from "../fields/TimeField";
import { timecode } from "../geometry/times";
import { snapsOf } from "../keys/snaps";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { chakra, Flex } from "../parts/styled";
import { DraftInput } from "../parts/TextInput";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useFrameDrag } from "./frameDrag";
import { shows, toX, useScale } from "./scale";

/** Labelled marks on the ruler: dragged in time, opened for label, time and removal. */
export function Beats() {
  const { scene } = useScene();
  const scale = useScale();
  return (scene.beats ?? [])
    .filter((beat) => shows(scale, beat.frame, beat.frame))
    .map((beat) => <BeatMark key={beat.frame} frame={beat.frame} label={beat.label ?? ""} />);
}

function BeatMark({ frame, label }: { frame: number; label: string }) {
  const session = useSession();
  const { scene } = useScene();
  const scale = useScale();
  const begin = useFrameDrag();
  const [by, setBy] = useState(0);
  const words = `Beat ${label ? `“${label}” ` : ""}at ${timecode(frame, scene)}`;
  const edit = (...edits: Edit[]) => session.edit(...edits);
  const press = (event: React.PointerEvent) =>
    begin(
      event,
      {
        move: setBy,
        end: (step) =>
          void session
            .edit({ edit: "move_beat", frame, to: Math.min(Math.max(frame + step, 0), scene.length - 1) })
            .finally(() => setBy(0)),
        cancel: () => setBy(0),
      },
      [frame],
      snapsOf(session, new Set()).filter((snap) => snap !== frame),
    );
  return (
    <Popover
      label="Beat"
      width="230px"
      trigger={
        <chakra.button
          type="button"
          aria-label={words}
          title={words}
          data-testid="beat"
          data-frame={frame}
          position="absolute"
          top="0"
          left={`${toX(scale, frame + by + 0.5) - 5}px`}
          width="10px"
          height="11px"
          cursor="grab"
          color="act"
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          onPointerDown={press}
        >
          <svg width="10" height="9" aria-hidden style={{ display: "block" }}>
            <path d="M5 0l4 7h-8z" fill="currentColor" />
          </svg>
        </chakra.button>
      }
    >
      {() => (
        <Flex gap="2" wrap="wrap">
          <DraftInput
            label="Label of the beat"
            placeholder="Label"
            text={label}
            width="100%"
            take={(text) => edit({ edit: "label_beat", frame, label: text.slice(0, 200) })}
          />
          <TimeField
            label="Time of the beat"
            frame={frame}
            keep={(to) => void edit({ edit: "move_beat", frame, to })}
          />
          <Pill height="23px" onClick={() => session.frames.seek(frame)}>
            Go there
          </Pill>
          <Pill height="23px" onClick={() => void edit({ edit: "delete_beats", frames: [frame] })}>
            Delete
          </Pill>
        </Flex>
      )}
    </Popover>
  );
}
