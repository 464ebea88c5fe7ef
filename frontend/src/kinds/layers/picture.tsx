import { useQuery } from "@tanstack/react-query";
import { Image } from "lucide-react";
import { api, type Layer, need } from "../../api/client";
import { Block } from "../../fields/Block";
import { Select } from "../../parts/Select";
import { Text } from "../../parts/styled";
import { useSession } from "../../session/session";
import { useScene } from "../../session/useScene";
import type { LayerKind } from "./kind";

type PictureContent = Extract<Layer["content"], { kind?: "picture" }>;

/** Which picture a layer shows. */
function PictureBlock({ layer }: { layer: Layer }) {
  const content = layer.content as PictureContent;
  const session = useSession();
  const { project } = useScene();
  const path = { project_id: project };
  const { data = [] } = useQuery({
    queryKey: ["pictures", project],
    queryFn: () => need(api.GET("/api/projects/{project_id}/pictures", { params: { path } })),
  });
  const shown = data.find((picture) => picture.id === content.asset);
  return (
    <Block
      name="Picture"
      beside={
        <Select
          label="Picture"
          value={content.asset}
          options={data.map((picture) => [picture.id, picture.name])}
          onChange={(asset) =>
            void session.edit({ edit: "set_content", layer: layer.id!, path: "asset", value: asset as never })
          }
        />
      }
    >
      {shown && (
        <Text color="quiet" fontSize="row" mt="1">
          {shown.width} × {shown.height} px
        </Text>
      )}
    </Block>
  );
}

export const picture: LayerKind = { kind: "picture", icon: Image, name: () => "picture", Block: PictureBlock };
