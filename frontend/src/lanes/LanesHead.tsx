import { chakra, Flex, Text } from "@chakra-ui/react";
import { SlidersHorizontal } from "lucide-react";
import { Choice } from "../parts/Choice";
import { Pop } from "../parts/Pop";
import { choose, useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { fps } from "../scene/times";
import { Switch } from "../scene/ViewMenu";
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
      fontSize="12px"
      borderRightWidth="1px"
      borderColor="edge"
    >
      <Text>Lanes · front first</Text>
      <Flex align="center" gap="2">
        <Text>{Math.round(fps(scene) * 1000) / 1000} fps</Text>
        <Pop
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
        </Pop>
      </Flex>
    </Flex>
  );
}

function Shown() {
  const { laneMode, lanesShow, laneOverlay, opened } = useChoices();
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
        onChange={(value) => choose({ laneMode: value })}
      />
      <Choice
        label="What curves show"
        value={lanesShow}
        options={[
          ["value", "Value"],
          ["speed", "Speed"],
        ]}
        onChange={(value) => choose({ lanesShow: value })}
      />
      <Switch text="Other properties in tall lanes" on={laneOverlay} set={(on) => choose({ laneOverlay: on })} />
      <Switch
        text="Every layer opened"
        on={all}
        set={(on) => choose({ opened: Object.fromEntries(ids.map((id) => [id, on])) })}
      />
      <chakra.button
        type="button"
        textAlign="left"
        textDecoration="underline"
        cursor="pointer"
        onClick={() => choose({ laneZoom: 1, laneFrom: 0 })}
      >
        Fit the whole scene
      </chakra.button>
    </Flex>
  );
}
