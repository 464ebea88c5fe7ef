import type { Edit, Layer } from "../../api/client";
import { RowLabel } from "../../fields/RowLabel";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Flex } from "../../parts/styled";
import { gradientOf, PAINTS } from "../../session/gradients";
import { useSession } from "../../session/session";
import { type Paint, setSelection, useSelection } from "../../state/selection";

type Kind = Extract<Edit, { edit?: "set_paint" }>["kind"];

/** What the kinds of gradient do not read. */
const UNREAD: Record<string, string[]> = {
  linear: ["centre", "radius", "angle"],
  radial: ["start", "end"],
  conic: ["start", "end", "radius"],
};

/** The numbers of a gradient that its kind does not read, by their paths in the content. */
export function unreadOf(layer: Layer, paint: Paint): string[] {
  const gradient = gradientOf(layer, paint);
  const start = PAINTS[paint].slice("content.".length);
  return gradient ? UNREAD[gradient.gradient].map((name) => `${start}.${name}`) : [];
}

/** A colour or a gradient; of a gradient its stops, and whether it is aimed on the stage. */
export function PaintRow({ layer, paint }: { layer: Layer; paint: Paint }) {
  const session = useSession();
  const aimed = useSelection((state) => state.gradient === paint && state.selected.includes(layer.id!));
  const gradient = gradientOf(layer, paint);
  const { locked } = layer;
  const name = paint === "fill" ? "Fill" : "Stroke";
  const base = { layer: layer.id!, paint };
  return (
    <Flex width="100%" gap="1.5" align="center" role="group" aria-label={`Paint of the ${paint}`}>
      <RowLabel>{`${name} as`}</RowLabel>
      <Select
        label={`${name}: colour or gradient`}
        width={gradient ? "72px" : "120px"}
        value={gradient?.gradient ?? "colour"}
        options={["colour", "linear", "radial", "conic"]}
        disabled={locked}
        onChange={(kind) => void session.edit({ edit: "set_paint", ...base, kind: kind as Kind })}
      />
      {gradient && (
        <>
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
        </>
      )}
    </Flex>
  );
}
