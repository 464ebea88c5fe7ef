import { Box, Flex, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import type { Layer } from "../api/client";
import { snapsOf } from "../lanes/drag";
import { moveKeys, pickKeys, selectKeys } from "../lanes/keys";
import { follow } from "../parts/press";
import { choices, chooseAndKeep, useChoices } from "../scene/choices";
import { useFacts, useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { Switch } from "../scene/ViewMenu";
import { AddPose } from "./AddPose";
import { EntranceButton } from "./Entrance";
import { Move } from "./Move";
import { PoseCard } from "./PoseCard";
import { type Pose, posesOf } from "./poses";

/** Under the stage: a card for each moment of the selected layers that has keys, and between cards the move. */
export function PoseStrip() {
  const { scene } = useScene();
  const facts = useFacts();
  const selected = useChoices((state) => state.selected);
  const ripple = useChoices((state) => state.ripple);
  const layers = useMemo(
    () => (scene.layers ?? []).filter((layer) => selected.includes(layer.id!)),
    [scene.layers, selected],
  );
  const poses = useMemo(() => posesOf(layers, facts), [layers, facts]);
  return (
    <Flex
      as="section"
      aria-label="Pose strip"
      data-testid="pose-strip"
      height="100%"
      bg="panel"
      align="center"
      px="3"
      gap="2"
      minWidth="0"
    >
      {!layers.length && (
        <Text color="quiet">
          Select a layer to see its poses here: a card for each moment that has keys, and the moves between them.
        </Text>
      )}
      {layers.length > 0 && (
        <>
          <Cards poses={poses} layers={layers} />
          <Flex direction="column" gap="1" flex="none" align="stretch" width="104px">
            <AddPose layers={layers} />
            <Flex gap="1">
              <EntranceButton layers={layers} way="in" />
              <EntranceButton layers={layers} way="out" />
            </Flex>
            <Switch text="Ripple" on={ripple} set={(on) => chooseAndKeep({ ripple: on })} />
          </Flex>
        </>
      )}
    </Flex>
  );
}

function Cards({ poses, layers }: { poses: Pose[]; layers: Layer[] }) {
  const session = useSession();
  const [dragged, setDragged] = useState<{ frame: number; by: number } | null>(null);
  const { start } = usePoseDrag(setDragged);
  const ids = layers.map((layer) => layer.id!);

  const setLength = (index: number, length: number) => {
    const by = poses[index].frame + length - poses[index + 1].frame;
    if (by === 0) return;
    const { ripple } = choices();
    void session.edit(
      ripple
        ? { edit: "ripple", layers: ids, frame: poses[index + 1].frame, by }
        : { edit: "move_keys", keys: poses[index + 1].keys, by },
    );
  };

  return (
    <Flex flex="1" minWidth="0" overflowX="auto" align="center" py="1" height="100%">
      {!poses.length && (
        <Text color="quiet">
          No poses yet. Key where the layer has landed with “Pose”, or let it come in: the start is made from here.
        </Text>
      )}
      {poses.map((pose, i) => (
        <Flex key={pose.frame} align="center" flex="none">
          <PoseCard
            pose={pose}
            layers={layers}
            by={dragged?.frame === pose.frame ? dragged.by : 0}
            pick={(event) => {
              selectKeys(pickKeys(pose.keys, event.shiftKey));
              session.frames.seek(pose.frame);
            }}
            start={(event) => start(event, pose, ids)}
            duplicate={() => void session.edit({ edit: "copy_keys", keys: pose.keys, frame: session.frames.frame })}
          />
          {i + 1 < poses.length && <Move from={pose} to={poses[i + 1]} setLength={(length) => setLength(i, length)} />}
        </Flex>
      ))}
      <Box width="4px" flex="none" />
    </Flex>
  );
}

/** Dragging a card in time: a frame for each 4 px; all its keys go along, later poses too with ripple. Esc gives back. */
function usePoseDrag(show: (dragged: { frame: number; by: number } | null) => void) {
  const session = useSession();
  const start = (event: React.PointerEvent, pose: Pose, layers: string[]) => {
    if (event.button !== 0) return;
    const x = event.clientX;
    const { keys: chosen, ripple } = choices();
    const several = pose.keys.every((key) =>
      chosen.some((one) => one.layer === key.layer && one.property === key.property && one.frame === key.frame),
    );
    const keys = several && chosen.length > pose.keys.length ? chosen : pose.keys;
    const later = ripple && keys === pose.keys;
    const snaps = snapsOf(session, new Set(keys.map((key) => `${key.layer}.${key.property}.${key.frame}`)));
    let by = 0;
    const edit = () =>
      later ? ({ edit: "ripple", layers, frame: pose.frame, by } as const) : ({ edit: "move_keys", keys, by } as const);
    const move = (moved: PointerEvent) => {
      let next = Math.round((moved.clientX - x) / 4);
      const near = snaps.find((snap) => Math.abs(snap - pose.frame - next) <= 1);
      if (near !== undefined && Math.abs(moved.clientX - x) > 6 && choices().magnet && !moved.ctrlKey && !moved.metaKey)
        next = near - pose.frame;
      if (next === by) return;
      by = next;
      show(by ? { frame: pose.frame, by } : null);
      if (by) session.try([edit()]);
      else session.cancel();
    };
    const end = () => {
      show(null);
      if (!by) return;
      if (later) void session.edit(edit());
      else void moveKeys(session, keys, by);
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
