import type { Layer } from "../api/client";
import { isItem } from "../document/items";
import { factsOf, labelOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { Block } from "../fields/Block";
import { Pill } from "../parts/Pill";
import { Box, Flex } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts } from "../session/useScene";
import { FramingPad } from "./FramingPad";
import { AddMask, MaskList } from "./MaskList";
import { PropertyRow } from "./PropertyRow";

/** What a layer is seen through: its masks, its crop and the content behind them. */
export function WindowBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const whole = !isItem(layer.id!);
  const toggle = (label: string, title: string, on: boolean, set: () => unknown) => (
    <Pill
      height="control"
      px="2.5"
      label={title}
      look={on ? "on" : "plain"}
      aria-pressed={on}
      disabled={layer.locked}
      onClick={() => void set()}
    >
      {label}
    </Pill>
  );
  const cropped = Boolean(layer.crop);
  const framed = Boolean(layer.framing);
  return (
    <Block
      name="Masks"
      beside={
        <Flex flex="1" justify="flex-end" align="center" gap="1.5">
          {whole && (
            <>
              {toggle("Crop", "Crop the layer by its edges", cropped, () =>
                session.edit({ edit: "set_crop", layer: layer.id!, on: !cropped, frame: session.frames.frame }),
              )}
              {toggle("Framing", "Framing: move the content behind its masks or its crop", framed, () =>
                session.edit({ edit: "set_framing", layer: layer.id!, on: !framed }),
              )}
            </>
          )}
          <AddMask layer={layer} />
        </Flex>
      }
    >
      <MaskList layer={layer} />
      {whole && layer.crop && (
        <Box role="group" aria-label="Crop">
          <Rows layer={layer} start="crop." />
        </Box>
      )}
      {whole && layer.framing && (
        <Box role="group" aria-label="Framing">
          <FramingPad layer={layer} />
          <Rows layer={layer} start="framing." />
        </Box>
      )}
    </Block>
  );
}

/** A label without the word that the block has said already. */
function shortly(label: string): string {
  const [, rest = label] = /^(?:Framing|Crop) (.+)$/.exec(label) ?? [];
  return rest[0].toUpperCase() + rest.slice(1);
}

function Rows({ layer, start }: { layer: Layer; start: string }) {
  const facts = useFacts();
  return Object.entries(tracksOf(layer))
    .filter(([name]) => name.startsWith(start))
    .map(([name, track]) => (
      <PropertyRow
        key={name}
        layer={layer}
        name={name}
        label={shortly(labelOf(layer, name, facts))}
        facts={factsOf(layer, name, facts)}
        track={track}
      />
    ));
}
