import type { Edit, Layer } from "../../api/client";
import { Row } from "../../fields/Row";
import { RowLabel } from "../../fields/RowLabel";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import type { Cascade } from "../../session/cascades";
import { useSession } from "../../session/session";

type Kind = Extract<Edit, { edit?: "set_paint" }>["kind"];

interface Props {
  layer: Layer;
  cascade: Cascade;
  index: number;
}

/** Whether units come from one colour or from a gradient, and the stops of that. */
export function CascadePaint({ layer, cascade, index }: Props) {
  const session = useSession();
  const { fill } = cascade;
  if (!fill) return null;
  const gradient = "gradient" in fill ? fill : null;
  const base = { layer: layer.id!, paint: "fill", of_cascade: index } as const;
  return (
    <Row label="Paint of the units">
      <RowLabel>Painted</RowLabel>
      <Select
        label="Unit colour: colour or gradient"
        width="84px"
        value={gradient?.gradient ?? "colour"}
        options={["colour", "linear", "radial", "conic"]}
        disabled={layer.locked}
        onChange={(kind) => void session.edit({ edit: "set_paint", ...base, kind: kind as Kind })}
      />
      {gradient && (
        <>
          <Pill
            px="2"
            label="+ stop: add a stop to the unit colour"
            disabled={layer.locked}
            onClick={() => void session.edit({ edit: "add_stop", ...base, frame: session.frames.frame })}
          >
            + stop
          </Pill>
          <Pill
            px="2"
            label="Remove the last stop of the unit colour"
            disabled={layer.locked || gradient.stops.length <= 2}
            onClick={() => void session.edit({ edit: "remove_stop", ...base, stop: gradient.stops.length - 1 })}
          >
            −
          </Pill>
        </>
      )}
    </Row>
  );
}
