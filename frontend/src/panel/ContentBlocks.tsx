import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, type Edit, type Layer, need } from "../api/client";
import { SHAPES } from "../kinds/shapes";
import type { ShapeContent } from "../kinds/shapes/kind";
import { NumberField } from "../parts/NumberField";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";

type PictureContent = Extract<Layer["content"], { kind?: "picture" }>;

/** What each shape of a layer is painted with: fill and stroke, there or not. */
export function ShapeBlock({ layer, content }: { layer: Layer; content: ShapeContent }) {
  const session = useSession();
  const set = (path: string, value: unknown) =>
    void session.edit({ edit: "set_content", layer: layer.id!, path, value: value as never });
  return (
    <Box role="group" aria-label="Shapes" borderTopWidth="1px" borderColor="edge" pt="2" pb="2">
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
    </Box>
  );
}

/** Which picture a layer shows. */
export function PictureBlock({ layer, content }: { layer: Layer; content: PictureContent }) {
  const session = useSession();
  const { project } = useScene();
  const path = { project_id: project };
  const { data = [] } = useQuery({
    queryKey: ["pictures", project],
    queryFn: () => need(api.GET("/api/projects/{project_id}/pictures", { params: { path } })),
  });
  const shown = data.find((picture) => picture.id === content.asset);
  return (
    <Box role="group" aria-label="Picture" borderTopWidth="1px" borderColor="edge" pt="2" pb="2">
      <Flex align="center" gap="2">
        <Text fontWeight={700}>Picture</Text>
        <Select
          label="Picture"
          value={content.asset}
          options={data.map((picture) => [picture.id, picture.name])}
          onChange={(asset) =>
            void session.edit({ edit: "set_content", layer: layer.id!, path: "asset", value: asset as never })
          }
        />
      </Flex>
      {shown && (
        <Text color="quiet" fontSize="12px" mt="1">
          {shown.width} × {shown.height} px
        </Text>
      )}
    </Box>
  );
}
