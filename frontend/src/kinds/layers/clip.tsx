import { AudioLines, Film } from "lucide-react";
import { useClips } from "../../acts/clips";
import type { Edit, Layer } from "../../api/client";
import { heardOnly } from "../../document/contents";
import { Block } from "../../fields/Block";
import { rateWords } from "../../geometry/times";
import { Select } from "../../parts/Select";
import { Text } from "../../parts/styled";
import { useSession } from "../../session/session";
import type { LayerKind } from "./kind";
import { SoundRows } from "./SoundRows";
import { ShownFrame, SourceRows } from "./SourceRows";

type ClipContent = Extract<Layer["content"], { kind?: "clip" }>;

/** Which clip a layer shows, and how its source runs in it. */
function ClipBlock({ layer }: { layer: Layer }) {
  const heard = heardOnly(layer.content);
  const what = heard ? "Sound" : "Clip";
  const content = layer.content as ClipContent;
  const session = useSession();
  const clips = useClips();
  const shown = clips.find(({ id }) => id === content.asset);
  const set = (path: string, value: unknown): Edit =>
    ({ edit: "set_content", layer: layer.id!, path, value }) as unknown as Edit;
  return (
    <Block
      name={what}
      beside={
        <Select
          label={what}
          value={content.asset}
          disabled={layer.locked}
          options={clips.flatMap(({ id, name, width, removed }): [string, string][] =>
            heard !== width > 0 && (!removed || id === content.asset) ? [[id, name]] : [],
          )}
          onChange={(asset) => void session.edit(set("asset", asset))}
        />
      }
    >
      {shown && (
        <Text color="quiet" fontSize="row" mt="1">
          {!heard &&
            `${shown.width} × ${shown.height} px · ${shown.rate ? `${rateWords(shown.rate)} fps` : "own times"} · `}
          {shown.length.toFixed(2)} s
        </Text>
      )}
      {shown?.missing && (
        <Text bg="finding" color="findingInk" borderRadius="control" px="2" py="1" mt="1" fontSize="row">
          Its file is missing. Add the same file again, and it is found.
        </Text>
      )}
      {!heard && <ShownFrame layer={layer} rate={shown?.rate ?? null} what="clip" />}
      <SourceRows
        layer={layer}
        what="clip"
        rate={!heard && shown?.rate ? (shown.rate[0] as number) / (shown.rate[1] as number) : undefined}
      >
        {shown?.sound && <SoundRows layer={layer} />}
      </SourceRows>
    </Block>
  );
}

export const clip: LayerKind = {
  kind: "clip",
  icon: Film,
  name: () => "clip",
  Block: ClipBlock,
};

export const sound: LayerKind = {
  kind: "sound",
  icon: AudioLines,
  name: () => "sound",
  Block: ClipBlock,
};
