import type { Layer } from "../../api/client";
import type { ShapeItem } from "../../document/items";
import { RowLabel } from "../../fields/RowLabel";
import { Select } from "../../parts/Select";
import { Flex } from "../../parts/styled";
import { Toggle } from "../../parts/Toggle";
import { useSession } from "../../session/session";

interface StrokeProps {
  layer: Layer;
  stroke: NonNullable<ShapeItem["stroke"]>;
  /** Where it stands in the content. */
  path: string;
}

/** How a stroke ends and turns, and whether it has dashes or is drawn in part; their numbers are rows of their own. */
export function StrokeRow({ layer, stroke, path }: StrokeProps) {
  const session = useSession();
  const set = (field: string, value: unknown) =>
    void session.edit({
      edit: "set_content",
      layer: layer.id!,
      path: `${path}.${field}`,
      value: value as never,
    });
  const part = (label: string, field: "dashes" | "part") => (
    <Toggle
      label={label}
      on={Boolean(stroke[field])}
      disabled={layer.locked}
      press={() => set(field, stroke[field] ? null : {})}
    />
  );
  return (
    <Flex width="100%" gap="1.5" align="center" wrap="wrap">
      <RowLabel title="Its ends and its corners">Line ends</RowLabel>
      <Select
        label="Ends of the stroke"
        width="57px"
        value={stroke.cap ?? "butt"}
        options={[
          ["butt", "flat"],
          ["round", "round"],
          ["square", "square"],
        ]}
        disabled={layer.locked}
        onChange={(value) => set("cap", value)}
      />
      <Select
        label="Corners of the stroke"
        width="57px"
        value={stroke.join ?? "miter"}
        options={[
          ["miter", "mitre"],
          ["round", "round"],
          ["bevel", "bevel"],
        ]}
        disabled={layer.locked}
        onChange={(value) => set("join", value)}
      />
      <Flex gap="1.5" width="100%" pl="82px">
        {part("Dashes", "dashes")}
        {part("In part", "part")}
      </Flex>
    </Flex>
  );
}
