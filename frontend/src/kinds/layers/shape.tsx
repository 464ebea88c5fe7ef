import { Flex, Text } from "@chakra-ui/react";
import { Shapes } from "lucide-react";
import type { Edit, Layer } from "../../api/client";
import { Block } from "../../fields/Block";
import { NumberField } from "../../fields/NumberField";
import { Pill } from "../../parts/Pill";
import { useSession } from "../../studio/session";
import { SHAPES } from "../shapes";
import type { ShapeContent } from "../shapes/kind";
import type { LayerKind } from "./kind";

/** What each shape of a layer is painted with: fill and stroke, there or not. */
function ShapeBlock({ layer }: { layer: Layer }) {
  const content = layer.content as ShapeContent;
  const session = useSession();
  const set = (path: string, value: unknown) =>
    void session.edit({ edit: "set_content", layer: layer.id!, path, value: value as never });
  return (
    <Block name="Shapes">
      {content.items.map((item, i) => (
        <Flex key={i} align="center" gap="1.5" mb="1">
          <Text flex="1" fontWeight={600}>
            {content.items.length > 1 ? `Shape ${i + 1}: ` : ""}
            {item.shape}
          </Text>
          {SHAPES.find((kind) => kind.shape === item.shape)?.counts?.map(([label, field, least, most]) => {
            const edit = (value: number): Edit => ({
              edit: "set_content",
              layer: layer.id!,
              path: `items.${i}.${field}`,
              value: Math.min(Math.max(Math.round(value), least), most) as never,
            });
            return (
              <NumberField
                key={field}
                label={content.items.length > 1 ? `${label} ${i + 1}` : label}
                unit={label.toLowerCase()}
                width="86px"
                disabled={layer.locked}
                read={() => (item as unknown as Record<string, number>)[field]}
                attempt={(value) => session.try([edit(value)])}
                keep={(value, run) => session.keep(run, edit(value))}
              />
            );
          })}
          <Pill
            height="23px"
            px="2.5"
            look={item.fill ? "on" : "plain"}
            aria-pressed={Boolean(item.fill)}
            disabled={layer.locked}
            onClick={() => set(`items.${i}.fill`, item.fill ? null : "#0e6b61ff")}
          >
            Fill
          </Pill>
          <Pill
            height="23px"
            px="2.5"
            look={item.stroke ? "on" : "plain"}
            aria-pressed={Boolean(item.stroke)}
            disabled={layer.locked}
            onClick={() => set(`items.${i}.stroke`, item.stroke ? null : { colour: "#1b2628ff", width: 4 })}
          >
            Stroke
          </Pill>
        </Flex>
      ))}
    </Block>
  );
}

/** What a layer of shapes is called: by its first shape. */
function nameOf(layer: Layer): string {
  const [first] = (layer.content as ShapeContent).items;
  return first.shape === "rectangle" && first.corners?.rest ? "rounded box" : (first.shape ?? "shape");
}

export const shape: LayerKind = { kind: "shape", icon: Shapes, name: nameOf, Block: ShapeBlock };
