import { SlidersHorizontal } from "lucide-react";
import { fps } from "../geometry/times";
import { Choice } from "../parts/Choice";
import { Popover } from "../parts/Popover";
import { Switch } from "../parts/Switch";
import { chakra, Flex, Text } from "../parts/styled";
import { useScene } from "../session/useScene";
import { setLanesView, useLanesView } from "../state/lanesView";
import { setSceneView, useSceneView } from "../state/sceneView";
import { NAMES } from "./scale";

/** The head of the names: the rate, and what the lanes show. */
export function LanesHead() {
  const { scene } = useScene();
  return (
    <Flex
      width={`${NAMES}px`}
      flex="none"
      align="center"
      justify="space-between"
      px="3"
      color="quiet"
      fontSize="row"
      borderRightWidth="1px"
      borderColor="edge"
    >
      <Text>Lanes · front first</Text>
      <Flex align="center" gap="2">
        <Text>{Math.round(fps(scene) * 1000) / 1000} fps</Text>
        <Popover
          label="What the lanes show"
          width="260px"
          placement="top-start"
          testId="lanes-menu"
          trigger={
            <chakra.button type="button" aria-label="What the lanes show" title="What the lanes show" cursor="pointer">
              <SlidersHorizontal size={13} />
            </chakra.button>
          }
        >
          {() => (
            <>
              <Shown />
            </>
          )}
        </Popover>
      </Flex>
    </Flex>
  );
}

function Shown() {
  const { laneMode, lanesShow, laneOverlay } = useLanesView();
  const opened = useSceneView((state) => state.opened);
  const { scene } = useScene();
  const ids = (scene.layers ?? []).map((layer) => layer.id!);
  const all = ids.every((id) => opened[id]);
  return (
    <Flex direction="column" gap="2">
      <Choice
        label="Which lanes an opened layer shows"
        value={laneMode}
        options={[
          ["keyed", "Keyed"],
          ["changed", "Changed"],
          ["all", "All"],
        ]}
        onChange={(value) => setLanesView({ laneMode: value })}
      />
      <Switch
        text="Curves as speed"
        on={lanesShow === "speed"}
        set={(on) => setLanesView({ lanesShow: on ? "speed" : "value" })}
      />
      <Switch text="Other properties in tall lanes" on={laneOverlay} set={(on) => setLanesView({ laneOverlay: on })} />
      <Switch
        text="Every layer opened"
        on={all}
        set={(on) => setSceneView({ opened: Object.fromEntries(ids.map((id) => [id, on])) })}
      />
      <chakra.button
        type="button"
        textAlign="left"
        textDecoration="underline"
        cursor="pointer"
        onClick={() => setSceneView({ laneZoom: 1, laneFrom: 0 })}
      >
        Fit the whole scene
      </chakra.button>
    </Flex>
  );
}
