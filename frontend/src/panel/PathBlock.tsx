import { pathKeys } from "../acts/motionPath";
import type { Layer } from "../api/client";
import { Block } from "../fields/Block";
import { NumberField } from "../fields/NumberField";
import { timecode } from "../geometry/times";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { setSelection, useSelection } from "../state/selection";

/** The motion path: bent or straight, and the handles of its chosen key in numbers. */
export function PathBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const chosen = useSelection((state) => state.pathKey);
  const position = layer.position!;
  if (!("rest" in position) || (position.keys?.length ?? 0) < 2) return null;
  const id = layer.id!;
  const keys = pathKeys(session, layer);
  const index = chosen?.layer === id ? keys.findIndex((key) => key.frame === chosen.frame) : -1;
  const key = keys[index];
  // Its handles as they are stored: those of a shape within a layer are in the pixels of the layer.
  const own = position.keys?.[index];
  const step = (by: number) => {
    const next = keys[(index + by + keys.length) % keys.length] ?? keys[0];
    setSelection({ pathKey: { layer: id, frame: next.frame } });
    session.frames.seek(next.frame);
  };
  const bend = (way: "smooth" | "straight") =>
    void session.edit({ edit: "bend_path", layer: id, way, frames: key ? [key.frame] : null });
  return (
    <Block
      name="Path"
      title={`Path${key ? ` · ${timecode(key.frame, scene)}` : ""}`}
      beside={
        <Flex flex="1" justify="flex-end" gap="1.5">
          <Pill height="control" px="2" label="Previous key of the path" onClick={() => step(-1)}>
            ‹
          </Pill>
          <Pill height="control" px="2" label="Next key of the path" onClick={() => step(1)}>
            ›
          </Pill>
          <Pill height="control" px="2.5" disabled={layer.locked} onClick={() => bend("smooth")}>
            Smooth
          </Pill>
          <Pill height="control" px="2.5" disabled={layer.locked} onClick={() => bend("straight")}>
            Straight
          </Pill>
        </Flex>
      }
    >
      {key &&
        (["arrive", "leave"] as const).map((side) => (
          <Flex key={side} align="center" gap="1.5" mt="1.5">
            <Text width="64px" color="position" fontWeight={600} fontSize="row">
              {side === "arrive" ? "Arrives" : "Leaves"}
            </Text>
            {([0, 1] as const).map((axis) => (
              <NumberField
                key={axis}
                label={`Handle ${side} ${"xy"[axis]}`}
                unit={"xy"[axis]}
                width="66px"
                disabled={layer.locked}
                read={() => own?.[side]?.[axis] ?? 0}
                keep={(value, run) => {
                  const pair: [number, number] = [...(own?.[side] ?? ([0, 0] as const))];
                  pair[axis] = value;
                  return session.keep(run, { edit: "set_handles", layer: id, frame: key.frame, [side]: pair });
                }}
              />
            ))}
          </Flex>
        ))}
    </Block>
  );
}
