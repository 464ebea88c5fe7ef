import { useQueryClient } from "@tanstack/react-query";
import { Clapperboard } from "lucide-react";
import { useEffect } from "react";
import { useHasSound } from "../../acts/clips";
import { takeApart } from "../../acts/takeApart";
import type { Edit, Layer } from "../../api/client";
import { Block } from "../../fields/Block";
import { ratedBy, rateWords, timecode } from "../../geometry/times";
import { Pill } from "../../parts/Pill";
import { Select } from "../../parts/Select";
import { Switch } from "../../parts/Switch";
import { Flex, Text } from "../../parts/styled";
import { PROJECTS, useProjectScenes } from "../../session/projects";
import { useSession } from "../../session/session";
import { goIntoScene } from "../../session/trail";
import { InnerSlots } from "../../slots/InnerSlots";
import type { LayerKind } from "./kind";
import { SoundRows } from "./SoundRows";
import { ShownFrame, SourceRows } from "./SourceRows";

/** Which scene a layer shows, how it runs in it, and the ways in and apart. */
function SceneBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const scenes = useProjectScenes();
  const content = layer.content as { asset: string; background?: boolean };
  const shown = scenes.find(({ id }) => id === content.asset);
  const hasSound = useHasSound(layer);
  const cache = useQueryClient();
  useEffect(() => {
    // One that was made just now, here or in another window, is not in the list yet.
    if (!shown) void cache.invalidateQueries({ queryKey: PROJECTS.queryKey });
  }, [shown, cache]);
  const options = scenes.flatMap(({ id, name }): [string, string][] => (id === session.sceneId ? [] : [[id, name]]));
  if (!shown) options.push([content.asset, "not in this project"]);
  const set = (path: string, value: unknown): Edit =>
    ({ edit: "set_content", layer: layer.id!, path, value }) as unknown as Edit;
  return (
    <Block
      name="Scene"
      beside={
        <Select
          label="Scene"
          value={content.asset}
          disabled={layer.locked}
          options={options}
          onChange={(asset) => void session.edit(set("asset", asset))}
        />
      }
    >
      {shown && (
        <Text color="quiet" fontSize="row" mt="1">
          {`${shown.width} × ${shown.height} px · ${rateWords(shown.frame_rate)} fps · ${timecode(shown.length, ratedBy(shown.frame_rate))}`}
        </Text>
      )}
      <ShownFrame layer={layer} rate={shown?.frame_rate ?? null} what="scene" />
      <Flex gap="1.5" my="1" align="center">
        <Pill height="control" px="3" look="act" onClick={() => goIntoScene(session, layer)}>
          Go in
        </Pill>
        <Pill height="control" px="3" disabled={layer.locked} onClick={() => void takeApart(session, layer)}>
          Take apart
        </Pill>
      </Flex>
      <InnerSlots layer={layer} />
      <Switch
        text="With its own background"
        on={content.background === true}
        set={(on) => void session.edit(set("background", on))}
      />
      <SourceRows layer={layer} what="scene">
        {hasSound && <SoundRows layer={layer} />}
      </SourceRows>
    </Block>
  );
}

export const scene: LayerKind = {
  kind: "scene",
  icon: Clapperboard,
  name: () => "scene",
  Block: SceneBlock,
};
