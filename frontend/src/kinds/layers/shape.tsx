import { Flex, Text } from "@chakra-ui/react";
import { Shapes } from "lucide-react";
import type { Edit, Layer } from "../../api/client";
import { Block } from "../../fields/Block";
import { NumberField } from "../../fields/NumberField";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { useSession } from "../../studio/session";
import { kindOfShape } from "../shapes";
import type { Item, ShapeContent } from "../shapes/kind";
import type { LayerKind } from "./kind";

/** What each shape of a layer is painted with: fill and stroke, there or not. */
function ShapeBlock({ layer }: { layer: Layer }) {
  const content = layer.content as ShapeContent;
  const session = useSession();
  const set = (path: string, value: unknown) =>
    void session.edit({ edit: "set_content", layer: layer.id!, path, value: value as never });
  return (
    <Block name="Shapes">
      {content.items.map((item, i) => {
        const kind = kindOfShape(item);
        const several = content.items.length > 1;
        const fields = item as unknown as Record<string, unknown>;
        const numbered = (label: string) => (several ? `${label} ${i + 1}` : label);
        const toggle = (label: string, field: string, make: () => unknown) => (
          <Pill
            key={field}
            height="23px"
            px="2.5"
            look={fields[field] ? "on" : "plain"}
            aria-pressed={Boolean(fields[field])}
            disabled={layer.locked}
            onClick={() => set(`items.${i}.${field}`, fields[field] ? null : make())}
          >
            {label}
          </Pill>
        );
        return (
          <Flex key={i} align="center" gap="1.5" mb="1" wrap="wrap">
            <Text flex="1" fontWeight={600} whiteSpace="nowrap">
              {several ? `Shape ${i + 1}: ` : ""}
              {called(item)}
            </Text>
            {kind?.counts?.map(([label, field, least, most]) => {
              const edit = (value: number): Edit => ({
                edit: "set_content",
                layer: layer.id!,
                path: `items.${i}.${field}`,
                value: Math.min(Math.max(Math.round(value), least), most) as never,
              });
              return (
                <NumberField
                  key={field}
                  label={numbered(label)}
                  unit={label.toLowerCase()}
                  width="86px"
                  disabled={layer.locked}
                  read={() => fields[field] as number}
                  attempt={(value) => session.try([edit(value)])}
                  keep={(value, run) => session.keep(run, edit(value))}
                />
              );
            })}
            {kind?.choices?.map(([label, field, options]) => (
              <Select
                key={field}
                label={numbered(label)}
                width="76px"
                value={fields[field] as string}
                options={options}
                disabled={layer.locked}
                onChange={(value) => set(`items.${i}.${field}`, value)}
              />
            ))}
            {kind?.parts?.map(([label, field, make]) => toggle(label, field, () => make(item)))}
            {kind?.fills !== false && toggle("Fill", "fill", () => "#0e6b61ff")}
            {toggle("Stroke", "stroke", () => ({ colour: "#1b2628ff", width: 4 }))}
            {item.stroke && <StrokeRow layer={layer} stroke={item.stroke} path={`items.${i}.stroke`} name={numbered} />}
          </Flex>
        );
      })}
    </Block>
  );
}

interface StrokeProps {
  layer: Layer;
  stroke: NonNullable<Item["stroke"]>;
  /** Its path in the content. */
  path: string;
  name: (label: string) => string;
}

/** How a stroke ends and turns, and whether it has dashes or is drawn in part; their numbers are rows of their own. */
function StrokeRow({ layer, stroke, path, name }: StrokeProps) {
  const session = useSession();
  const set = (field: string, value: unknown) =>
    void session.edit({ edit: "set_content", layer: layer.id!, path: `${path}.${field}`, value: value as never });
  const part = (label: string, field: "dashes" | "part", made: unknown) => (
    <Pill
      height="23px"
      px="2.5"
      label={name(label)}
      look={stroke[field] ? "on" : "plain"}
      aria-pressed={Boolean(stroke[field])}
      disabled={layer.locked}
      onClick={() => set(field, stroke[field] ? null : made)}
    >
      {label}
    </Pill>
  );
  return (
    <Flex width="100%" gap="1.5" align="center">
      <Select
        label={name("Ends of the stroke")}
        width="67px"
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
        label={name("Corners of the stroke")}
        width="70px"
        value={stroke.join ?? "miter"}
        options={[
          ["miter", "mitre"],
          ["round", "round"],
          ["bevel", "bevel"],
        ]}
        disabled={layer.locked}
        onChange={(value) => set("join", value)}
      />
      {part("Dashes", "dashes", {})}
      {part("In part", "part", {})}
    </Flex>
  );
}

/** What a layer of shapes is called: by its first shape. */
const nameOf = (layer: Layer) => called((layer.content as ShapeContent).items[0]);

/** What a shape is called; one that is not of ours by its own word. */
const called = (item: Item) => kindOfShape(item)?.name.toLowerCase() ?? item.shape ?? "shape";

/** A single shape's offset within its layer says nothing; it is shown where there are several. */
function unread(layer: Layer): string[] {
  const { items } = layer.content as ShapeContent;
  const names = items.flatMap((item, i) =>
    (kindOfShape(item)?.unread?.(item) ?? []).map((name) => `items.${i}.${name}`),
  );
  // A mitre limit matters to mitred corners alone.
  items.forEach((item, i) => {
    if (item.stroke && item.stroke.join !== "miter") names.push(`items.${i}.stroke.mitre`);
  });
  return items.length === 1 ? [...names, "items.0.at"] : names;
}

export const shape: LayerKind = { kind: "shape", icon: Shapes, name: nameOf, Block: ShapeBlock, unread };
