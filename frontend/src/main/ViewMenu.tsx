import { Columns2, Grid3x3, Ruler, X } from "lucide-react";
import { NumberField } from "../fields/NumberField";
import { STATIONS } from "../geometry/layerGeometry";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { Select } from "../parts/Select";
import { Switch } from "../parts/Switch";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { setLooking } from "../state/looking";
import { setSceneView } from "../state/sceneView";
import { setTools, useTools } from "../state/tools";
import { setViewSettings, useViewSettings, type ViewSettings } from "../state/viewSettings";

const SWITCHES: [keyof ViewSettings, string][] = [
  ["mark", "Anchor's mark"],
  ["path", "Motion path"],
  ["speed", "Speed as thickness"],
  ["ghosts", "Ghosts of the poses beside"],
  ["safe", "Title-safe and action-safe"],
  ["thirds", "Thirds"],
  ["centre", "Centre lines"],
  ["grid", "Pixel grid from 800 %"],
  ["outlines", "Outlines only"],
  ["rulers", "Rulers and guides"],
  ["pointer", "Colour under the pointer"],
  ["scopes", "Waveform and histogram"],
];

/** What is drawn over and around the picture; remembered for each scene. */
export function ViewMenu() {
  return (
    <Popover
      label="Guides"
      width="270px"
      placement="bottom-end"
      testId="view-menu"
      trigger={
        <Pill title="What is drawn over the picture">
          <Grid3x3 size={13} /> Guides
        </Pill>
      }
    >
      {(close) => <Choices close={close} />}
    </Popover>
  );
}

function Choices({ close }: { close: () => void }) {
  const session = useSession();
  const look = useViewSettings();
  const magnet = useTools((state) => state.magnet);
  return (
    <Flex direction="column" gap="1">
      {SWITCHES.map(([name, text]) => (
        <Switch key={name} text={text} on={look[name] === true} set={(on) => setViewSettings({ [name]: on })} />
      ))}
      <Switch text="Magnet" on={magnet} set={(on) => setTools({ magnet: on })} />
      <Flex align="center" gap="2" mt="1.5">
        <Text flex="1">Path of</Text>
        <Select
          label="Path of"
          width="130px"
          value={look.follow}
          options={["anchor", ...Object.keys(STATIONS)]}
          onChange={(follow) => setViewSettings({ follow })}
        />
      </Flex>
      <Flex align="center" gap="2">
        <Text flex="1">Surround</Text>
        <Select
          label="Surround"
          width="130px"
          value={look.surround}
          options={[
            ["light", "light grey"],
            ["mid", "mid grey"],
            ["dark", "dark grey"],
          ]}
          onChange={(surround) => setViewSettings({ surround: surround as ViewSettings["surround"] })}
        />
      </Flex>
      <Flex align="center" gap="2">
        <Text flex="1">Along the ruler</Text>
        <Select
          label="Along the ruler"
          width="130px"
          value={look.strip}
          options={[
            ["none", "nothing"],
            ["covering", "where it covers"],
            ["speed", "how fast it is"],
          ]}
          onChange={(strip) => setViewSettings({ strip: strip as ViewSettings["strip"] })}
        />
      </Flex>
      <Pill
        height="control"
        mt="1"
        label="Compare this moment with another"
        onClick={() => {
          setSceneView({ compare: { moment: session.frames.frame } });
          close();
        }}
      >
        <Columns2 size={13} /> Compare this moment with another
      </Pill>
      <Pill
        height="control"
        mt="1"
        label="Measure between two points"
        onClick={() => {
          setLooking({ measure: true, pick: null });
          close();
        }}
      >
        <Ruler size={13} /> Measure between two points
      </Pill>
      {look.rulers && <Guides />}
    </Flex>
  );
}

/** Guides by number, for hands that do not drag them out of the rulers. */
function Guides() {
  const guides = useViewSettings((state) => state.guides);
  const { scene } = useScene();
  const set = (axis: "x" | "y", list: number[]) => setViewSettings({ guides: { ...guides, [axis]: list } });
  return (
    <Box mt="1">
      <Text color="quiet" fontSize="row" mb="1">
        Guides: drag them out of the rulers, or add them here.
      </Text>
      {(["x", "y"] as const).map((axis) => (
        <Flex key={axis} wrap="wrap" gap="1" mb="1" align="center">
          {guides[axis].map((at, i) => (
            <Flex key={`${axis}${i}`} align="center">
              <NumberField
                label={`Guide ${axis} ${i + 1}`}
                unit={axis}
                width="62px"
                read={() => at}
                keep={(value) => set(axis, guides[axis].with(i, value))}
              />
              <Pill
                look="bare"
                label={`Take guide ${axis} ${i + 1} away`}
                height="22px"
                px="0.5"
                onClick={() => set(axis, guides[axis].toSpliced(i, 1))}
              >
                <X size={12} />
              </Pill>
            </Flex>
          ))}
          <Pill
            height="23px"
            px="2"
            fontSize="row"
            onClick={() => set(axis, [...guides[axis], Math.round((axis === "x" ? scene.width : scene.height) / 2)])}
          >
            + {axis === "x" ? "upright" : "level"}
          </Pill>
        </Flex>
      ))}
    </Box>
  );
}
