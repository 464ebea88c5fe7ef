import type { Edit, Layer } from "../api/client";
import { Row } from "../fields/Row";
import { RowLabel } from "../fields/RowLabel";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { say } from "../state/page";

type SetMatte = Extract<Edit, { edit?: "set_matte" }>;

/** The layer that this one is shown in, and how. */
export function MatteRow({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const others = (scene.layers ?? []).filter((one) => one.id !== layer.id);
  const { matte } = layer;
  const set = (change: Partial<SetMatte>) =>
    session.edit({ edit: "set_matte", layer: layer.id!, off: false, hide: false, ...change });
  const choose = async (id: string) => {
    const other = others.find((one) => one.id === id);
    const seen = other?.visible !== false;
    if (!(await set(id ? { matte: id, hide: true } : { off: true })) || !other) return;
    if (seen) say(`${other.name} is hidden from the picture now; it still counts as the matte.`, true);
  };
  return (
    <Row label="Matte">
      <RowLabel title="The layer that it is shown in">Matte</RowLabel>
      <Select
        label="Matte"
        value={matte?.layer ?? ""}
        options={[["", "none"], ...others.map((one): [string, string] => [one.id!, one.name])]}
        disabled={layer.locked}
        onChange={(id) => void choose(id)}
      />
      {matte && (
        <>
          <Select
            label="What of the matte counts"
            width="84px"
            value={matte.by ?? "opacity"}
            options={["opacity", "brightness"]}
            disabled={layer.locked}
            onChange={(by) => void set({ by: by as "opacity" })}
          />
          <Pill
            height="control"
            px="2"
            look={matte.inverted ? "on" : "plain"}
            aria-pressed={Boolean(matte.inverted)}
            label="Shown where the matte is not"
            disabled={layer.locked}
            onClick={() => void set({ inverted: !matte.inverted })}
          >
            not
          </Pill>
        </>
      )}
    </Row>
  );
}
