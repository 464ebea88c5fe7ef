import type { Edit, Layer } from "../../api/client";
import { RowLabel } from "../../fields/RowLabel";
import { Choice } from "../../parts/Choice";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Flex } from "../../parts/styled";
import { gradientOf, pathOfPaint } from "../../session/gradients";
import { useSession } from "../../session/session";
import { type Paint, setSelection, useSelection } from "../../state/selection";

type Kind = Extract<Edit, { edit?: "set_paint" }>["kind"];

/** What the kinds of gradient do not read. */
export const UNREAD: Record<string, string[]> = {
  linear: ["centre", "radius", "angle"],
  radial: ["start", "end"],
  conic: ["start", "end", "radius"],
};

/** The numbers of a gradient that its kind does not read, by their paths in the content. */
export function unreadOf(layer: Layer, paint: Paint): string[] {
  const gradient = gradientOf(layer, paint);
  const start = pathOfPaint(layer, paint).slice("content.".length);
  return gradient ? UNREAD[gradient.gradient].map((name) => `${start}.${name}`) : [];
}

const KINDS: [Kind, string][] = [
  ["colour", "colour"],
  ["linear", "linear"],
  ["radial", "radial"],
  ["conic", "conic"],
];

/** A colour or a kind of gradient, to be chosen behind the chevron of the colour. */
export function PaintKinds({ layer, paint }: { layer: Layer; paint: Paint }) {
  const session = useSession();
  return (
    <Flex mb="2">
      <Choice
        label={`${NAMES[paint]}: colour or gradient`}
        value="colour"
        options={KINDS}
        onChange={(kind) => void session.edit({ edit: "set_paint", layer: layer.id!, paint, kind })}
      />
    </Flex>
  );
}

const NAMES: Record<Paint, string> = { fill: "Fill", stroke: "Stroke" };

/** Of a gradient: its kind, its stops, and whether it is aimed on the stage. */
export function PaintRow({ layer, paint }: { layer: Layer; paint: Paint }) {
  const session = useSession();
  const aimed = useSelection((state) => state.gradient === paint && state.selected.includes(layer.id!));
  const gradient = gradientOf(layer, paint);
  if (!gradient) return null;
  const { locked } = layer;
  const name = NAMES[paint];
  const base = { layer: layer.id!, paint };
  return (
    <Flex width="100%" gap="1.5" align="center" role="group" aria-label={`Paint of the ${paint}`}>
      <RowLabel>{name}</RowLabel>
      <Select
        label={`${name}: colour or gradient`}
        width="72px"
        value={gradient.gradient}
        options={KINDS}
        disabled={locked}
        onChange={(kind) => void session.edit({ edit: "set_paint", ...base, kind: kind as Kind })}
      />
      <Pill
        height="control"
        px="2"
        label={`Aim the gradient of the ${paint} on the stage`}
        look={aimed ? "on" : "plain"}
        aria-pressed={aimed}
        disabled={locked}
        onClick={() => setSelection({ gradient: aimed ? null : paint, points: null })}
      >
        Aim
      </Pill>
      <Pill
        height="control"
        px="2"
        label={`+ stop: add a stop to the ${paint}`}
        disabled={locked}
        onClick={() => void session.edit({ edit: "add_stop", ...base, frame: session.frames.frame })}
      >
        + stop
      </Pill>
      <Pill
        height="control"
        px="2"
        label={`Remove the last stop of the ${paint}; any other by its name’s menu, or dragged off on the stage`}
        disabled={locked || gradient.stops.length <= 2}
        onClick={() => void session.edit({ edit: "remove_stop", ...base, stop: gradient.stops.length - 1 })}
      >
        −
      </Pill>
    </Flex>
  );
}
