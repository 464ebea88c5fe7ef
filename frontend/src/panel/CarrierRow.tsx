import { useState } from "react";
import type { Layer } from "../api/client";
import { heardOnly } from "../document/contents";
import { Row } from "../fields/Row";
import { RowLabel } from "../fields/RowLabel";
import { Select } from "../parts/Select";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

type Keep = "frame" | "throughout";

/** The layer that carries this one, and what stays put when that changes. */
export function CarrierRow({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const [keep, setKeep] = useState<Keep>("frame");
  const all = scene.layers ?? [];
  const carried = (id: string | null | undefined, by: string): boolean => {
    const one = all.find((other) => other.id === id);
    return one !== undefined && (one.id === by || carried(one.carrier, by));
  };
  // What it carries itself, of itself or by way of others, cannot carry it.
  const others = all.filter((one) => !heardOnly(one.content) && !carried(one.id, layer.id!));
  const set = (carrier: string | null) =>
    session.edit({
      edit: "carry_layers",
      layers: [layer.id!],
      carrier,
      frame: session.frames.frame,
      keep: carrier ? keep : "throughout",
    });
  return (
    <Row label="Carrier">
      <RowLabel title="Position, scale and rotation go along with it">Carried by</RowLabel>
      <Select
        label="Carried by"
        value={layer.carrier ?? ""}
        options={[["", "nothing"], ...others.map((one): [string, string] => [one.id!, one.name])]}
        disabled={layer.locked}
        onChange={(id) => void set(id || null)}
      />
      <Select
        label="When linked, the picture stays"
        width="104px"
        value={keep}
        options={[
          ["frame", "stays here"],
          ["throughout", "stays throughout"],
        ]}
        disabled={layer.locked}
        onChange={(value) => setKeep(value as Keep)}
      />
    </Row>
  );
}
