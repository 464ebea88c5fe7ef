import { ChevronDown, Plus } from "lucide-react";
import type { Layer } from "../api/client";
import { labelOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { Pill } from "../parts/Pill";
import { Popover } from "../parts/Popover";
import { Switch } from "../parts/Switch";
import { Box, Flex, Text } from "../parts/styled";
import type { Session } from "../session/session";
import { useSession } from "../session/session";
import { useFacts } from "../session/useScene";
import { habits, setHabits, useHabits } from "../state/habits";
import { sayProblem } from "../state/page";
import { selection } from "../state/selection";

const FIRST = ["position", "scale", "rotation", "opacity"];

/** The properties that a pose keys on a layer: those chosen, or where none are, those that are keyed already. */
function propertiesOf(layer: Layer, chosen: string[] | null): string[] {
  const tracks = tracksOf(layer);
  const keyed = Object.keys(tracks).filter((name) => tracks[name].keys?.length);
  if (chosen === null) return keyed.length ? keyed : FIRST.filter((name) => name in tracks);
  return Object.keys(tracks).filter((name) => chosen.includes(name) || chosen.includes(name.split(".")[0]));
}

/** Key the chosen properties of the selected layers at the playhead, at once; the motion is unchanged. */
export function keyPose(session: Session) {
  const layers = selection()
    .selected.map((id) => session.layer(id))
    .filter((layer) => layer !== undefined);
  const edits = layers.flatMap((layer) => {
    const properties = propertiesOf(layer, habits().poseProperties);
    return properties.length
      ? [{ edit: "key_pose" as const, layers: [layer.id!], properties, frame: session.frames.frame }]
      : [];
  });
  if (edits.length) void session.edit(...edits);
  else sayProblem(new Error("Nothing to key here: select a layer, and choose the properties that a pose keys."));
}

/** “+ Pose”, with a choice of what it keys. */
export function AddPose({ layers }: { layers: Layer[] }) {
  const session = useSession();
  const facts = useFacts();
  const chosen = useHabits((state) => state.poseProperties);
  const names = [...new Set(layers.flatMap((layer) => Object.keys(tracksOf(layer))))].filter(
    (name) => !name.endsWith(".at"),
  );
  return (
    <Flex>
      <Pill
        flex="1"
        height="26px"
        px="2"
        borderRadius="full"
        title="Key the pose at the playhead (K)"
        borderRightRadius="0"
        onClick={() => keyPose(session)}
      >
        <Plus size={13} /> Pose
      </Pill>
      <Popover
        label="What a pose keys"
        width="220px"
        placement="top-end"
        testId="pose-properties"
        trigger={
          <Pill height="26px" px="1" label="What a pose keys" borderLeftRadius="0" borderLeftWidth="0">
            <ChevronDown size={13} />
          </Pill>
        }
      >
        {() => (
          <>
            <Text fontWeight={700} mb="1">
              A pose keys
            </Text>
            <Switch
              text="what is keyed already"
              on={chosen === null}
              set={(on) => setHabits({ poseProperties: on ? null : FIRST })}
            />
            <Box borderTopWidth="1px" borderColor="edge" mt="1" pt="1">
              {names.map((name) => (
                <Switch
                  key={name}
                  text={labelOf(layers.find((layer) => name in tracksOf(layer))!, name, facts)}
                  on={chosen?.includes(name) ?? false}
                  set={(on) =>
                    setHabits({
                      poseProperties: on ? [...(chosen ?? []), name] : (chosen ?? []).filter((one) => one !== name),
                    })
                  }
                />
              ))}
            </Box>
          </>
        )}
      </Popover>
    </Flex>
  );
}
