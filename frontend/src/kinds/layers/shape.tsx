import { Shapes } from "lucide-react";
import type { Edit, Layer } from "../../api/client";
import { holds, isBare, isItem, isMask, itemsOf } from "../../document/items";
import { tracksOf } from "../../document/tracks";
import { Block } from "../../fields/Block";
import { NumberField } from "../../fields/NumberField";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Flex, Text } from "../../parts/styled";
import { Toggle } from "../../parts/Toggle";
import { pathIn } from "../../session/drawnPath";
import { useSession } from "../../session/session";
import { kindOfShape } from "../shapes";
import type { Item, ShapeItem } from "../shapes/kind";
import { AddShape, ItemTree } from "./ItemTree";
import type { LayerKind } from "./kind";
import { PaintRow, unreadOf } from "./PaintRow";
import { PointsBlock } from "./PointsBlock";
import { StrokeRow } from "./StrokeRow";

/** What a single shape is painted with; several are seen to one by one. */
function ShapeBlock({ layer }: { layer: Layer }) {
  const [item] = itemsOf(layer);
  if (!isBare(layer)) return null;
  return <PaintBlock layer={layer} item={item as ShapeItem} />;
}

/** The shapes that lie in the layer, or beside the one that is selected; and the points of a path. */
function WithinBlock({ layer }: { layer: Layer }) {
  const path = pathIn(layer);
  return (
    <>
      <ItemTree layer={layer} />
      {path && <PointsBlock layer={layer} path={path} />}
    </>
  );
}

/** What a shape is painted with: fill and stroke, there or not; its choices, counts and parts. */
function PaintBlock({ layer, item }: { layer: Layer; item: ShapeItem }) {
  const session = useSession();
  const kind = kindOfShape(item);
  const mask = isMask(layer.id!);
  const fields = item as unknown as Record<string, unknown>;
  const set = (path: string, value: unknown) =>
    void session.edit({ edit: "set_content", layer: layer.id!, path: `items.0.${path}`, value: value as never });
  const toggle = (label: string, field: string, make: () => unknown) => (
    <Toggle
      key={field}
      label={label}
      on={Boolean(fields[field])}
      disabled={layer.locked}
      press={() => set(field, fields[field] ? null : make())}
    />
  );
  return (
    <Block
      name="Shape"
      beside={
        <Flex flex="1" justify="flex-end" gap="1.5">
          {item.shape !== "path" && (
            <Pill
              height="control"
              px="2.5"
              label="To path: turn it into a path, which looks the same"
              disabled={layer.locked}
              onClick={() => void session.edit({ edit: "make_paths", layers: [layer.id!] })}
            >
              To path
            </Pill>
          )}
          {!isItem(layer.id!) && <AddShape into={layer} />}
        </Flex>
      }
    >
      <Flex align="center" gap="1.5" mb="1" wrap="wrap">
        <Text flex="1" fontWeight={600} whiteSpace="nowrap">
          {called(item)}
        </Text>
        {kind?.counts?.map(([label, field, least, most]) => {
          const edit = (value: number): Edit => ({
            edit: "set_content",
            layer: layer.id!,
            path: `items.0.${field}`,
            value: Math.min(Math.max(Math.round(value), least), most) as never,
          });
          return (
            <NumberField
              key={field}
              label={label}
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
            label={label}
            width="76px"
            value={fields[field] as string}
            options={options}
            disabled={layer.locked}
            onChange={(value) => set(field, value)}
          />
        ))}
        {kind?.parts?.map(([label, field, make]) => toggle(label, field, () => make(item)))}
        {!mask && kind?.fills !== false && toggle("Fill", "fill", () => "#0e6b61ff")}
        {!mask && toggle("Stroke", "stroke", () => ({ colour: "#1b2628ff", width: 4 }))}
        {!mask && item.fill && <PaintRow layer={layer} paint="fill" />}
        {item.shape === "path" && (item.fill || mask) && (
          <Select
            label="Inside"
            width="120px"
            value={item.fill_rule ?? "nonzero"}
            options={[
              ["nonzero", "all inside"],
              ["evenodd", "even-odd"],
            ]}
            disabled={layer.locked}
            onChange={(value) => set("fill_rule", value)}
          />
        )}
        {!mask && item.stroke && <PaintRow layer={layer} paint="stroke" />}
        {item.stroke && <StrokeRow layer={layer} stroke={item.stroke} path="items.0.stroke" />}
      </Flex>
    </Block>
  );
}

/** What a layer of shapes is called: by its only shape, or by how many there are. */
const nameOf = (layer: Layer) => {
  const items = itemsOf(layer);
  return items.length > 1 || (isItem(layer.id!) && holds(layer)) ? `${items.length} shapes` : called(items[0]);
};

/** What a shape is called; one that is not of ours by its own word. */
const called = (item: Item) => kindOfShape(item)?.name.toLowerCase() ?? item.shape ?? "shape";

/** The numbers of several shapes are shown with each of them; a single one's offset within its layer says nothing. */
function unread(layer: Layer): string[] {
  const items = itemsOf(layer);
  const [item] = items;
  if (!isBare(layer)) return Object.keys(tracksOf(layer)).flatMap((name) => inContent(name));
  const names = (kindOfShape(item)?.unread?.(item) ?? []).map((name) => `items.0.${name}`);
  // A mitre limit matters to mitred corners alone.
  if ("stroke" in item && item.stroke && item.stroke.join !== "miter") names.push("items.0.stroke.mitre");
  const paints = (["fill", "stroke"] as const).flatMap((paint) => unreadOf(layer, paint));
  // Colours are nothing to a mask.
  if (isMask(layer.id!)) names.push("items.0.fill", "items.0.stroke.colour");
  return [...names, ...paints, "items.0.at", "items.0.points"];
}

const inContent = (name: string) => (name.startsWith("content.") ? [name.slice("content.".length)] : []);

export const shape: LayerKind = {
  kind: "shape",
  icon: Shapes,
  iconOf: (layer) => {
    const [only, ...more] = itemsOf(layer);
    return only && !more.length ? kindOfShape(only)?.icon : undefined;
  },
  name: nameOf,
  Block: ShapeBlock,
  Within: WithinBlock,
  unread,
};
