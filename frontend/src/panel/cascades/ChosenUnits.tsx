import type { Layer } from "../../api/client";
import { hasWords } from "../../document/contents";
import { NumberField } from "../../fields/NumberField";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { Pill } from "../../parts/Pill";
import { follow } from "../../parts/press";
import { Select } from "../../parts/Select";
import { Flex } from "../../parts/styled";
import { Toggle } from "../../parts/Toggle";
import { type Cascade, cascadeEdits } from "../../session/cascades";
import { useSession } from "../../session/session";

interface ChosenProps {
  layer: Layer;
  cascade: Cascade;
  index: number;
  units: readonly { strength: number }[];
}

/** Which letters take part, and how softly that begins and ends. */
export function ChosenUnits({ layer, cascade, index, units }: ChosenProps) {
  const session = useSession();
  const { choice } = cascade;
  const id = layer.id!;
  const set = (value: Cascade["choice"]) => session.edit(...cascadeEdits(id, index, { choice: value }));
  const attempt = (value: Cascade["choice"]) => session.try(cascadeEdits(id, index, { choice: value }));
  const number = (label: string, now: number, made: (value: number) => Cascade["choice"]) => (
    <NumberField
      label={label}
      unit=""
      width="62px"
      disabled={layer.locked}
      read={() => now}
      keep={(value, run) => session.keep(run, ...cascadeEdits(id, index, { choice: made(Math.max(value, 0)) }))}
      attempt={(value) => attempt(made(Math.max(value, 0)))}
    />
  );
  const names = hasWords(layer.content)
    ? [...new Set((layer.content.parts ?? []).flatMap(({ name }) => name ?? []))]
    : [];
  const part = choice?.part ?? null;
  const offered = part && !names.includes(part) ? [part, ...names] : names;
  const from = { start: 0, stop: 3, soft_start: 0, soft_stop: 0, curve: "ease-in-out" as const };
  return (
    <>
      <Flex mt="1" gap="1.5" align="center">
        <Toggle
          label="Some letters"
          title="Some letters: from one to another, softly at the ends, or those of a part that has a name"
          on={Boolean(choice)}
          disabled={layer.locked}
          press={() => void set(choice ? null : from)}
        />
        {choice && offered.length > 0 && (
          <Select
            label="Which letters take part"
            value={part ?? ""}
            options={[["", "from, to"], ...offered.map((name): [string, string] => [name, `part “${name}”`])]}
            onChange={(name) => void set({ ...from, ...choice, part: name || null })}
            disabled={layer.locked}
          />
        )}
      </Flex>
      {choice && <Strengths layer={layer} cascade={cascade} index={index} units={units} />}
      {choice?.picked && !part && (
        <Flex align="center" gap="2" my="1" color="quiet" fontSize="row">
          {choice.picked.length} picked with Alt on the stage
          <Pill px="2" disabled={layer.locked} onClick={() => void set({ ...choice, picked: null })}>
            From, to instead
          </Pill>
        </Flex>
      )}
      {choice && !choice.picked && !part && (
        <>
          <Row label="Letters that take part">
            <RowLabel title="The first and the last of them, counted without spaces">From, to</RowLabel>
            {number("First letter", (choice.start ?? 0) + 1, (value) => ({
              ...choice,
              start: Math.max(Math.round(value) - 1, 0),
            }))}
            {number("Last letter", choice.stop ?? 0, (value) => ({ ...choice, stop: Math.round(value) }))}
          </Row>
          <Row label="Soft edges">
            <RowLabel title="Over how many letters it begins and ends">Soft</RowLabel>
            {number("Soft start", choice.soft_start ?? 0, (value) => ({ ...choice, soft_start: value }))}
            {number("Soft end", choice.soft_stop ?? 0, (value) => ({ ...choice, soft_stop: value }))}
          </Row>
        </>
      )}
    </>
  );
}

const WIDE = 270;
const TALL = 36;

/** How strongly each unit takes part, as a curve; its two slopes are dragged. */
function Strengths({ layer, cascade, index, units }: ChosenProps) {
  const session = useSession();
  const choice = cascade.choice!;
  const id = layer.id!;
  const step = WIDE / Math.max(units.length, 1);
  const shape = units.map(({ strength }, at) => `${at * step},${TALL - strength * (TALL - 2)}`);
  const ends = units.map(({ strength }, at) => `${(at + 1) * step},${TALL - strength * (TALL - 2)}`);
  const line = shape.flatMap((corner, at) => [corner, ends[at]]).join(" ");
  const drag = (event: React.PointerEvent, side: "start" | "stop") => {
    if (layer.locked || event.button !== 0) return;
    event.preventDefault();
    const x = event.clientX;
    const field = side === "start" ? "soft_start" : "soft_stop";
    const before = choice[field] ?? 0;
    const at = (moved: PointerEvent) => {
      const by = ((moved.clientX - x) / step) * (side === "start" ? 1 : -1);
      return { choice: { ...choice, [field]: Math.round(Math.min(Math.max(before + by, 0), units.length) * 10) / 10 } };
    };
    let last: ReturnType<typeof at> | null = null;
    follow({
      move: (moved) => {
        last = at(moved);
        session.try(cascadeEdits(id, index, last));
      },
      end: () => (last ? void session.edit(...cascadeEdits(id, index, last)) : session.cancel()),
      cancel: () => session.cancel(),
    });
  };
  const [from, to] = [choice.start ?? 0, Math.min(choice.stop ?? units.length, units.length)];
  const grips = [
    ["start", Math.min(from + (choice.soft_start ?? 0) + 0.5, units.length)],
    ["stop", Math.max(to - (choice.soft_stop ?? 0) - 0.5, 0)],
  ] as const;
  return (
    <svg
      width={WIDE}
      height={TALL}
      role="img"
      aria-label="How strongly each unit takes part"
      data-testid="strengths"
      style={{ display: "block", margin: "4px 0" }}
    >
      <polyline points={`0,${TALL} ${line} ${WIDE},${TALL}`} fill="var(--chakra-colors-span)" stroke="none" />
      <polyline points={line} fill="none" stroke="var(--chakra-colors-act)" strokeWidth={1.5} />
      {!choice.picked &&
        !choice.part &&
        grips.map(([side, at]) => (
          <circle
            key={side}
            data-testid={`soft-${side}`}
            cx={Math.min(Math.max(at * step, 5), WIDE - 5)}
            cy={8}
            r={5}
            fill="var(--chakra-colors-paper)"
            stroke="var(--chakra-colors-anchor-ink)"
            strokeWidth={1.5}
            style={{ cursor: "ew-resize" }}
            onPointerDown={(event) => drag(event, side)}
          />
        ))}
    </svg>
  );
}
