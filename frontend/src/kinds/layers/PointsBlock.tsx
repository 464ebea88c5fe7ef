import { row } from "../../api/arrays";
import type { Edit, Layer } from "../../api/client";
import { parentOf } from "../../document/items";
import { tracksOf } from "../../document/tracks";
import { Block } from "../../fields/Block";
import { NumberField } from "../../fields/NumberField";
import { KeySteps, Pebble } from "../../keys/Pebble";
import { Pill } from "../../parts/Pill";
import { Flex, Text } from "../../parts/styled";
import { type PathItem, runOf } from "../../session/drawnPath";
import { useSession } from "../../session/session";
import { setSelection, useSelection } from "../../state/selection";

const NAME = "content.items.0.points";
const PARTS = [
  ["place", "Point", 0],
  ["in", "Arrives", 2],
  ["out", "Leaves", 4],
] as const;

/** The points of a path: keyed or not, closed or open, and those that are selected by hand or in numbers. */
export function PointsBlock({ layer, path }: { layer: Layer; path: PathItem }) {
  const session = useSession();
  const id = layer.id!;
  const points = useSelection((state) => (state.selected.includes(id) ? state.points : null));
  const [first] = points ?? [];
  const one = points?.length === 1 ? first : null;
  const count = path.points.rest.length;
  const contour = first === undefined ? path.contours.length - 1 : runOf(path, first);
  const closed = path.contours[contour]?.closed ?? false;
  const { locked } = layer;
  const now = () => ({ layer: id, frame: session.frames.frame });
  const some = (edit: Edit) => void session.edit(edit);
  const step = (by: number) => setSelection({ points: [((one ?? (by > 0 ? -1 : count)) + by + count) % count] });
  const shape = (way: "corner" | "smooth") => some({ edit: "shape_points", ...now(), points: points!, way });
  return (
    <Block
      name="Points"
      beside={
        <Flex flex="1" align="center" gap="1.5">
          <Pebble layer={layer} name={NAME} label="Points" track={tracksOf(layer)[NAME]} tone="size" />
          <Text flex="1" color="quiet" fontSize="row" whiteSpace="nowrap">
            {one === null ? `${points?.length ? `${points.length} of ` : ""}${count}` : `${one + 1} of ${count}`}
          </Text>
          <KeySteps layer={layer} name={NAME} label="Points" track={tracksOf(layer)[NAME]} />
          <Pill
            height="control"
            px="2.5"
            look={points ? "on" : "plain"}
            aria-pressed={points !== null}
            disabled={locked}
            onClick={() => setSelection({ points: points ? null : [] })}
          >
            Edit
          </Pill>
        </Flex>
      }
    >
      <Flex gap="1" mt="1" align="center">
        {points && (
          <>
            <Pill height="control" px="2" label="Previous point" onClick={() => step(-1)}>
              ‹
            </Pill>
            <Pill height="control" px="2" label="Next point" onClick={() => step(1)}>
              ›
            </Pill>
            <Pill height="control" px="2" disabled={locked || !points.length} onClick={() => shape("corner")}>
              Corner
            </Pill>
            <Pill height="control" px="2" disabled={locked || !points.length} onClick={() => shape("smooth")}>
              Smooth
            </Pill>
          </>
        )}
        <Pill
          height="control"
          px="2"
          look={closed ? "on" : "plain"}
          aria-pressed={closed}
          disabled={locked}
          onClick={() => some({ edit: "close_path", ...now(), closed: !closed, contour })}
        >
          Closed
        </Pill>
        {!closed && contour === path.contours.length - 1 && (
          <Pill
            height="control"
            px="2"
            label="Go on drawing the path at its end"
            disabled={locked}
            onClick={() => setSelection({ drawing: { layer: id, into: parentOf(id) }, points: null })}
          >
            Go on
          </Pill>
        )}
      </Flex>
      {one !== null &&
        PARTS.map(([part, label, at]) => (
          <Flex key={part} align="center" gap="1.5" mt="1.5">
            <Text width="64px" color="size" fontWeight={600} fontSize="row">
              {label}
            </Text>
            {([0, 1] as const).map((axis) => {
              const edit = (value: number): Edit => ({
                edit: "set_point",
                ...now(),
                point: one,
                part,
                to: axis === 0 ? [value, null] : [null, value],
              });
              return (
                <NumberField
                  key={axis}
                  label={`${label} ${"xy"[axis]}`}
                  unit={"xy"[axis]}
                  width="70px"
                  disabled={locked}
                  read={() => {
                    const arrays = session.frames.layer(id);
                    const column = arrays?.values[NAME];
                    if (!arrays || column === undefined) return null;
                    return row(arrays, column, session.frames.frame)[one * 6 + at + axis] ?? null;
                  }}
                  attempt={(value) => session.try([edit(value)])}
                  keep={(value, run) => session.keep(run, edit(value))}
                />
              );
            })}
          </Flex>
        ))}
    </Block>
  );
}
