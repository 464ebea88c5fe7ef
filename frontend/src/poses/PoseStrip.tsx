import { GalleryHorizontal, Table2 } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Edit, KeyRef, Layer } from "../api/client";
import { cascadesOf } from "../document/contents";
import { layerAt } from "../document/items";
import { pickKeys, retimeKeys, sameKey, selectKeys } from "../keys/keys";
import { snapsOf } from "../keys/snaps";
import { IconButton } from "../parts/IconButton";
import { follow } from "../parts/press";
import { Switch } from "../parts/Switch";
import { Box, Flex, Text } from "../parts/styled";
import { type Session, useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { habits, setHabits, useHabits } from "../state/habits";
import { selection, useSelection } from "../state/selection";
import { tools } from "../state/tools";
import { AddPose } from "./AddPose";
import { CascadeMoves } from "./CascadeMoves";
import { EntranceButton } from "./Entrance";
import { KeyTable } from "./KeyTable";
import { MOVE, Move } from "./Move";
import { AROUND, type CardSize, PoseCard } from "./PoseCard";
import { type Pose, posesOf } from "./poses";

/** Under the stage: a card for each moment of the selected layers that has keys, and between cards the move. */
export function PoseStrip() {
  const { scene } = useScene();
  const facts = useFacts();
  const selected = useSelection((state) => state.selected);
  const ripple = useHabits((state) => state.ripple);
  const layers = useMemo(() => selected.flatMap((id) => layerAt(scene.layers, id) ?? []), [scene.layers, selected]);
  const poses = useMemo(() => posesOf(layers, facts), [layers, facts]);
  const face = useHabits((state) => state.poseFace);
  const numbers = face === "numbers" && layers.length === 1;
  const moving = layers.length === 1 && cascadesOf(layers[0].content).length > 0 ? layers[0] : undefined;
  return (
    <Flex
      as="section"
      aria-label="Pose strip"
      data-testid="pose-strip"
      data-poses={poses.length}
      height="100%"
      bg="panel"
      align="center"
      px="3"
      gap="2"
      minWidth="0"
    >
      {!layers.length && (
        <Text color="quiet" fontSize="row" truncate>
          Select a layer to see its poses here: a card for each moment that has keys, and the moves between them.
        </Text>
      )}
      {layers.length > 0 && (
        <>
          {numbers ? (
            <KeyTable layer={layers[0]} />
          ) : poses.length ? (
            <Cards poses={poses} layers={layers} />
          ) : (
            !moving && <NoPoses />
          )}
          {moving && !numbers && <CascadeMoves layer={moving} alone={!poses.length} />}
          <Flex direction={poses.length || numbers ? "column" : "row"} gap="1" flex="none" align="stretch">
            <AddPose layers={layers} />
            <Flex gap="1" minWidth="104px">
              <EntranceButton layers={layers} way="in" />
              <EntranceButton layers={layers} way="out" />
            </Flex>
            {(poses.length > 0 || layers.length === 1) && (
              <Flex align="center" justify="space-between" gap="1">
                {(poses.length > 0 || numbers) && (
                  <Switch text="Ripple" on={ripple} set={(on) => setHabits({ ripple: on })} />
                )}
                <IconButton
                  label={`${numbers ? "Poses as cards" : "Keys as numbers"} (T)`}
                  disabled={layers.length !== 1}
                  onClick={() => setHabits({ poseFace: numbers ? "cards" : "numbers" })}
                >
                  {numbers ? <GalleryHorizontal size={14} /> : <Table2 size={14} />}
                </IconButton>
              </Flex>
            )}
          </Flex>
        </>
      )}
    </Flex>
  );
}

function NoPoses() {
  return (
    <Text color="quiet" fontSize="row" truncate flex="1" minWidth="0">
      No poses yet. Key where the layer has landed with “Pose”, or let it come in: the start is made from here.
    </Text>
  );
}

function Cards({ poses, layers }: { poses: Pose[]; layers: Layer[] }) {
  const session = useSession();
  const [dragged, setDragged] = useState<{ frame: number; by: number } | null>(null);
  const { start } = usePoseDrag(setDragged);
  const ids = layers.map((layer) => layer.id!);
  const { strip, size } = useCardSize(poses.length);

  const setLength = (index: number, length: number) => {
    const by = poses[index].frame + length - poses[index + 1].frame;
    if (by === 0) return;
    const { ripple } = habits();
    void session.edit(
      ripple
        ? { edit: "ripple", layers: ids, frame: poses[index + 1].frame, by }
        : { edit: "move_keys", keys: poses[index + 1].keys, by },
    );
  };

  return (
    <Flex ref={strip} flex="1" minWidth="0" overflowX="auto" align="center" py="1" height="100%">
      {poses.map((pose, i) => (
        <Flex key={pose.frame} align="center" flex="none">
          <PoseCard
            pose={pose}
            number={i + 1}
            layers={layers}
            size={size}
            by={dragged?.frame === pose.frame ? dragged.by : 0}
            pick={(event) => {
              selectKeys(pickKeys(pose.keys, event.shiftKey));
              session.frames.seek(pose.frame);
            }}
            start={(event) => start(event, pose, ids)}
            move={(by) => void movePose(session, heldBy(pose, ids), by)}
            duplicate={() => void session.edit({ edit: "copy_keys", keys: pose.keys, frame: session.frames.frame })}
          />
          {i + 1 < poses.length && <Move from={pose} to={poses[i + 1]} setLength={(length) => setLength(i, length)} />}
        </Flex>
      ))}
      <Box width="4px" flex="none" />
    </Flex>
  );
}

const LEAST: CardSize = { wide: 108, tall: 44 };
const MOST: CardSize = { wide: 150, tall: 80 };

/** Pictures as large as the strip has room for, so that all cards are seen at once where they can be. */
function useCardSize(count: number) {
  const strip = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const seen = new ResizeObserver(([{ contentRect }]) => {
      const { width, height } = contentRect;
      setRoom((before) => (before.width === width && before.height === height ? before : { width, height }));
    });
    seen.observe(strip.current!);
    return () => seen.disconnect();
  }, []);
  const fitted = (part: keyof CardSize, given: number) =>
    Math.round(Math.min(Math.max(given, LEAST[part]), MOST[part]));
  const size = {
    wide: fitted("wide", (room.width - 4 - MOVE * (count - 1)) / count - AROUND.wide),
    tall: fitted("tall", room.height - AROUND.tall),
  };
  return { strip, size };
}

/** What goes along with a pose: its keys, those selected with it, or every later one of its layers. */
interface Held {
  frame: number;
  keys: KeyRef[];
  layers: string[];
  ripple: boolean;
}

function heldBy(pose: Pose, layers: string[]): Held {
  const { keys: chosen } = selection();
  const { ripple } = habits();
  const several = chosen.length > pose.keys.length && pose.keys.every((key) => chosen.some((one) => sameKey(one, key)));
  return { frame: pose.frame, keys: several ? chosen : pose.keys, layers, ripple: ripple && !several };
}

const moved = ({ frame, keys, layers, ripple }: Held, by: number): Edit =>
  ripple ? { edit: "ripple", layers, frame, by } : { edit: "move_keys", keys, by };

const movePose = (session: Session, held: Held, by: number) =>
  retimeKeys(session, held.keys, moved(held, by), (frame) => frame + by);

/** Dragging a card in time: a frame for each 4 px. Esc gives back. */
function usePoseDrag(show: (dragged: { frame: number; by: number } | null) => void) {
  const session = useSession();
  const start = (event: React.PointerEvent, pose: Pose, layers: string[]) => {
    if (event.button !== 0) return;
    const x = event.clientX;
    const held = heldBy(pose, layers);
    const snaps = snapsOf(session, new Set(held.keys.map((key) => `${key.layer}.${key.property}.${key.frame}`)));
    let by = 0;
    const move = (pointer: PointerEvent) => {
      let next = Math.round((pointer.clientX - x) / 4);
      const near = snaps.find((snap) => Math.abs(snap - pose.frame - next) <= 1);
      const free = pointer.ctrlKey || pointer.metaKey || !tools().magnet;
      if (near !== undefined && Math.abs(pointer.clientX - x) > 6 && !free) next = near - pose.frame;
      if (next === by) return;
      by = next;
      show(by ? { frame: pose.frame, by } : null);
      if (by) session.try([moved(held, by)]);
      else session.cancel();
    };
    const end = () => {
      show(null);
      if (!by) return;
      void movePose(session, held, by);
      session.frames.seek(pose.frame + by);
    };
    const cancel = () => {
      show(null);
      session.cancel();
    };
    follow({ move, end, cancel });
  };
  return { start };
}
