import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { RotateCcw } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Edit, Layer } from "../api/client";
import { KindIcon } from "../parts/icons";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { TimeField } from "../parts/TimeField";
import { say, useChoices } from "../scene/choices";
import { factsOf, kindOf, labelOf, placeOf, useFacts, useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { timecode } from "../scene/times";
import { tracksOf } from "../scene/tracks";
import { VariantsBlock } from "../variants/VariantsBlock";
import { AnchorBlock } from "./AnchorBlock";
import { ArrangeBlock } from "./ArrangeBlock";
import { PictureBlock, ShapeBlock } from "./ContentBlocks";
import { EasingBlock } from "./EasingBlock";
import { KeysBlock } from "./KeysBlock";
import { ManyPanel } from "./ManyPanel";
import { PathBlock } from "./PathBlock";
import { PropertyRow } from "./PropertyRow";
import { Row } from "./Row";
import { SceneBlock } from "./SceneBlock";
import { SeenNote } from "./SeenNote";
import { TextBlock } from "./TextBlock";

/** The panel of what is selected: the anchor first; of the scene while nothing is. */
export function Panel() {
  const { scene } = useScene();
  const facts = useFacts();
  const selected = useChoices((state) => state.selected);
  // In the order in which they were selected: the first is the one that others are aligned to.
  const layers = selected.flatMap((id) => scene.layers?.find((layer) => layer.id === id) ?? []);
  return (
    <Box
      as="aside"
      aria-label="Panel"
      height="100%"
      overflowY="auto"
      bg="paper"
      px="3.5"
      py="2.5"
      data-testid="panel"
      // Each row is painted for itself, so that a number that changes does not repaint the whole panel.
      css={{ contain: "strict", "& > *, & [role=group]": { isolation: "isolate" } }}
    >
      {layers.length === 1 ? <LayerPanel key={layers[0].id} layer={layers[0]} /> : null}
      {layers.length > 1 ? <ManyPanel layers={layers} facts={facts} /> : null}
      {layers.length === 0 ? <SceneBlock /> : null}
    </Box>
  );
}

function LayerPanel({ layer }: { layer: Layer }) {
  const { scene } = useScene();
  const facts = useFacts();
  const rows = Object.entries(tracksOf(layer))
    .filter(([name]) => name !== "anchor" && shows(layer, name))
    .sort(([a], [b]) => placeOf(layer, a, facts) - placeOf(layer, b, facts));
  return (
    <>
      <Flex align="center" gap="2" mb="2">
        <KindIcon kind={layer.content.kind!} />
        <Text fontWeight={700} fontSize="14.5px" truncate>
          {layer.name}
        </Text>
        <Box flex="1" />
        <Text color="quiet" fontSize="12px" whiteSpace="nowrap">
          {kindOf(layer)} · <Clock />
        </Text>
        <ResetAll layer={layer} />
      </Flex>
      {layer.locked && (
        <Text bg="finding" color="findingInk" borderRadius="8px" px="2" py="1" mb="2">
          This layer is locked. Unlock it in the lanes to change it.
        </Text>
      )}
      <SeenNote layer={layer.id!} />
      <AnchorBlock layer={layer} />
      {layer.content.kind === "text" && <TextBlock layer={layer} content={layer.content} facts={facts} />}
      <Box mt="2.5">
        {rows.map(([name, track]) => (
          <PropertyRow
            key={name}
            layer={layer}
            name={name}
            label={labelOf(layer, name, facts)}
            facts={factsOf(layer, name, facts)}
            track={track}
          />
        ))}
      </Box>
      <BlendRow layer={layer} blends={facts.blends} />
      <SpanRow layer={layer} />
      <KeysBlock />
      <EasingBlock layer={layer} scene={scene} facts={facts} />
      <PathBlock layer={layer} />
      <VariantsBlock layer={layer} />
      <ArrangeBlock layers={[layer]} />
      {layer.content.kind === "shape" && <ShapeBlock layer={layer} content={layer.content} />}
      {layer.content.kind === "picture" && <PictureBlock layer={layer} content={layer.content} />}
    </>
  );
}

/** How the layer is blended with what lies below it. */
function BlendRow({ layer, blends }: { layer: Layer; blends: string[] }) {
  const session = useSession();
  return (
    <Row label="Blending">
      <Text width="76px" fontWeight={600} fontSize="12.5px" color="quiet">
        Blend
      </Text>
      <Select
        label="Blend"
        width="120px"
        value={layer.blend ?? "normal"}
        disabled={layer.locked}
        options={blends.map((blend): [string, string] => [blend, blend.replace("-", " ")])}
        onChange={(blend) => void session.edit({ edit: "set_blend", layers: [layer.id!], blend } as Edit)}
      />
    </Row>
  );
}

/** When the layer is there, in times that can be typed. */
function SpanRow({ layer }: { layer: Layer }) {
  const session = useSession();
  const { start, length } = layer.span;
  const trim = (from: number, long: number) =>
    void session.edit({ edit: "trim_span", layer: layer.id!, start: from, length: long });
  return (
    <Row label="Span">
      <Text width="76px" fontWeight={600} fontSize="12.5px" color="quiet">
        Span
      </Text>
      <TimeField
        label="Start of the span"
        frame={start}
        width="57px"
        keep={(to) => void session.edit({ edit: "move_span", layer: layer.id!, start: to })}
      />
      <TimeField label="Length of the span" frame={length} least={1} width="57px" keep={(to) => trim(start, to)} />
      <Text fontSize="12px" color="quiet">
        start, length
      </Text>
    </Row>
  );
}

function ResetAll({ layer }: { layer: Layer }) {
  const session = useSession();
  return (
    <Pill
      look="bare"
      height="20px"
      px="0.5"
      label="Reset anchor, position, scale, rotation and opacity"
      disabled={layer.locked}
      onClick={() =>
        void session
          .edit({ edit: "reset_properties", layer: layer.id! })
          .then((kept) => kept && say(`Reset the motion of ${layer.name}.`, true))
      }
    >
      <RotateCcw size={13} />
    </Pill>
  );
}

/** A single shape's offset within its layer says nothing; it is shown where there are several. */
const shows = (layer: Layer, name: string) =>
  !(layer.content.kind === "shape" && layer.content.items.length === 1 && name.endsWith(".at"));

/** The playhead's time, painted by itself. */
export function Clock() {
  const session = useSession();
  const { scene } = useScene();
  const text = useRef<HTMLElement>(null);
  useEffect(() => {
    const paint = () => {
      const time = timecode(session.frames.frame, scene);
      if (text.current!.textContent !== time) text.current!.textContent = time;
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  }, [session, scene]);
  return <chakra.span ref={text} fontVariantNumeric="tabular-nums" data-testid="clock" />;
}
