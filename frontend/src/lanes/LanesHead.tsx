import { Funnel, SlidersHorizontal, X } from "lucide-react";
import { useRef } from "react";
import { fps } from "../geometry/times";
import { Choice } from "../parts/Choice";
import { toStage } from "../parts/focus";
import { IconButton } from "../parts/IconButton";
import { Popover } from "../parts/Popover";
import { Select } from "../parts/Select";
import { Switch } from "../parts/Switch";
import { chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useScene } from "../session/useScene";
import { setLanesView, useLanesView } from "../state/lanesView";
import { setSceneView, useSceneView } from "../state/sceneView";
import { closeFilter, type Only, setLaneFilter, useLaneFilter } from "./laneFilter";
import { NAMES } from "./scale";

const ONLY: [Only, string][] = [
  ["all", "all"],
  ["keyed", "keyed"],
  ["selected", "selected"],
  ["here", "shown here"],
  ["carried", "carried"],
];

/** The head of the names: the rate, and what the lanes show. */
export function LanesHead() {
  const { scene } = useScene();
  const { open, words, only } = useLaneFilter();
  const field = useRef<HTMLInputElement>(null);
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
      {open ? (
        <Flex align="center" gap="1" flex="1" minWidth="0" mr="1" ml="-1.5">
          <TextInput
            ref={field}
            aria-label="Filter of the lanes"
            placeholder="name or kind"
            value={words}
            maxLength={100}
            spellCheck={false}
            autoComplete="off"
            data-typing="yes"
            height="20px"
            px="1.5"
            flex="1"
            minWidth="0"
            fontSize="row"
            onChange={(event) => setLaneFilter({ words: event.target.value })}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Escape") closeFilter();
              if (event.key === "Escape" || event.key === "Enter") toStage(event.currentTarget);
            }}
          />
          <Select
            label="Which layers the lanes show"
            width="74px"
            value={only}
            options={ONLY}
            onChange={(next) => setLaneFilter({ only: next as Only })}
            stays
          />
          <IconButton label="Show all layers" onClick={closeFilter}>
            <X size={12} />
          </IconButton>
        </Flex>
      ) : (
        <Text>Lanes · front first</Text>
      )}
      <Flex align="center" gap="2">
        {!open && <Text>{Math.round(fps(scene) * 1000) / 1000} fps</Text>}
        {!open && (
          <IconButton
            label="Filter the lanes"
            onClick={() => {
              setLaneFilter({ open: true });
              requestAnimationFrame(() => field.current?.focus());
            }}
          >
            <Funnel size={13} />
          </IconButton>
        )}
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
