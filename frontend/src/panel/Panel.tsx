import { RotateCcw } from "lucide-react";
import { useEffect, useRef } from "react";
import { useHasSound } from "../acts/clips";
import type { Edit, Facts, Layer } from "../api/client";
import { hasUnits, heardOnly } from "../document/contents";
import { isItem, isMask, layerAt, outerOf, outOf } from "../document/items";
import { factsOf, labelOf, placeOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { Row } from "../fields/Row";
import { RowLabel } from "../fields/RowLabel";
import { TimeField } from "../fields/TimeField";
import { UnseenNote } from "../fields/UnseenNote";
import { timecode } from "../geometry/times";
import { KindIcon, kindOf } from "../kinds/layers";
import { Pill } from "../parts/Pill";
import { Select } from "../parts/Select";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { Toggle } from "../parts/Toggle";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { LayerSlots } from "../slots/LayerSlots";
import { say } from "../state/page";
import { select, useSelection } from "../state/selection";
import { VariantsBlock } from "../variants/VariantsBlock";
import { AnchorBlock } from "./AnchorBlock";
import { ArrangeBlock } from "./ArrangeBlock";
import { CarrierRow } from "./CarrierRow";
import { CascadesBlock } from "./cascades/CascadesBlock";
import { EasingBlock } from "./EasingBlock";
import { EffectsBlock } from "./effects/EffectsBlock";
import { KeysBlock } from "./KeysBlock";
import { ManyPanel } from "./ManyPanel";
import { MaskBlock } from "./MaskBlock";
import { MatteRow } from "./MatteRow";
import { PathBlock } from "./PathBlock";
import { PatternBlock } from "./PatternBlock";
import { PropertyRow } from "./PropertyRow";
import { SceneBlock } from "./SceneBlock";
import { WindowBlock } from "./WindowBlock";

/** The panel of what is selected: the anchor first; of the scene while nothing is. */
export function Panel() {
  const { scene } = useScene();
  const facts = useFacts();
  const selected = useSelection((state) => state.selected);
  // In the order in which they were selected: the first is the one that others are aligned to.
  const layers = selected.flatMap((id) => layerAt(scene.layers, id) ?? []);
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
      css={{
        contain: "strict",
        "& > *, & [role=group]": { isolation: "isolate" },
        // One height and one radius for whatever stands in a row.
        "& [data-pill]": { height: "{sizes.control}", borderRadius: "{radii.control}", paddingInline: "6px" },
        "& > *:has([role=listbox]), & [role=group]:has([role=listbox])": { position: "relative", zIndex: 2 },
      }}
    >
      {layers.length === 1 ? <LayerPanel key={layers[0].id} layer={layers[0]} /> : null}
      {layers.length > 1 ? <ManyPanel layers={layers} facts={facts} /> : null}
      {layers.length === 0 ? <SceneBlock /> : null}
    </Box>
  );
}

/** How loud a layer is heard. */
const LEVEL = "content.sound.level";

/** Properties that have rows in the blocks of masks, of effects, of cascades and of the pattern. */
const WINDOW = /^(masks|crop|framing|effects|content\.cascades)\.|\.repeat\./;

/** The layer itself; of a mask, what it masks. */
const maskedBy = (layers: Layer[] | undefined, layer: Layer) =>
  (isMask(layer.id!) && layerAt(layers, outOf(layer.id!))) || layer;

function LayerPanel({ layer }: { layer: Layer }) {
  const { scene } = useScene();
  const facts = useFacts();
  const item = isItem(layer.id!);
  const { Block: Own, Within, unread, markOnly } = kindOf(layer);
  const seen = !heardOnly(layer.content);
  const hasSound = useHasSound(layer);
  const letters = useSelection((state) => state.letters);
  const without = (unread?.(layer, letters) ?? []).map((name) => `content.${name}`);
  const all = Object.entries(tracksOf(layer))
    .filter(([name]) => name !== "anchor" && !without.includes(name) && !WINDOW.test(name))
    .filter(([name]) => !markOnly || name !== "opacity")
    .filter(([name]) => (name === LEVEL ? hasSound : seen || name.startsWith("content.")))
    .sort(([a], [b]) => placeOf(layer, a, facts) - placeOf(layer, b, facts));
  /** The rows of what it is, and then those of its motion. */
  const rows = (start: "content." | "") => {
    const own = all.filter(([name]) => name.startsWith("content.") === Boolean(start));
    return own.length ? (
      <Part bare={Boolean(start && Own)}>
        {own.map(([name, track]) => (
          <PropertyRow
            key={name}
            layer={layer}
            name={name}
            label={name.startsWith("content.parts.") ? ownLabel(layer, name, facts) : labelOf(layer, name, facts)}
            facts={factsOf(layer, name, facts)}
            track={track}
          />
        ))}
      </Part>
    ) : null;
  };
  return (
    <>
      {item && <Trail id={layer.id!} />}
      <Flex align="center" gap="2" mb="2">
        <KindIcon layer={layer} />
        <Text fontWeight={700} fontSize="name" truncate>
          {layer.name}
        </Text>
        <Box flex="1" />
        <Text color="quiet" fontSize="row" whiteSpace="nowrap">
          {kindOf(layer).name(layer)} · <Clock />
        </Text>
        <ResetAll layer={layer} />
      </Flex>
      {layer.locked && (
        <Text bg="finding" color="findingInk" borderRadius="control" px="2" py="1" mb="2">
          This layer is locked. Unlock it in the lanes to change it.
        </Text>
      )}
      {!item && <UnseenNote layer={layer.id!} />}
      {isMask(layer.id!) && <MaskBlock layer={layer} />}
      {seen && <AnchorBlock layer={layer} />}
      {Within && <Within layer={layer} />}
      {Own && <Own layer={layer} />}
      {rows("content.")}
      {!item && hasUnits(layer.content) && <CascadesBlock layer={layer} />}
      {rows("")}
      <KeysBlock />
      <EasingBlock layers={[layer]} scene={scene} facts={facts} />
      {seen && <PathBlock layer={layer} />}
      {!item && (
        <Part>
          <SpanRow layer={layer} />
        </Part>
      )}
      {seen && !markOnly && <WindowBlock layer={maskedBy(scene.layers, layer)} />}
      {seen && !markOnly && <EffectsBlock layer={layer} />}
      <PatternBlock layer={layer} />
      {!item && seen && (
        <Part>
          <CarrierRow layer={layer} />
          {!markOnly && <MatteRow layer={layer} />}
          {!markOnly && <BlendRow layer={layer} blends={facts.blends} />}
        </Part>
      )}
      <LayerSlots layer={layer} />
      {!item && <VariantsBlock layer={layer} />}
      {seen && <ArrangeBlock layers={[layer]} />}
    </>
  );
}

/** What a number of chosen letters is called: `Own size`. */
const ownLabel = (layer: Layer, name: string, facts: Facts) =>
  `Own ${(factsOf(layer, name, facts).label || labelOf(layer, name, facts)).toLowerCase()}`;

/** Rows that belong together, with a rule and air above; `bare` for those that go on with the block above. */
function Part({ bare, children }: { bare?: boolean; children: React.ReactNode }) {
  return bare ? (
    <Box mt="1">{children}</Box>
  ) : (
    <Box borderTopWidth="1px" borderColor="edge" mt="2.5" pt="1.5">
      {children}
    </Box>
  );
}

/** What a shape lies in, from its layer inwards; a click goes out to it. */
function Trail({ id }: { id: string }) {
  const { scene } = useScene();
  const outer = outerOf(id);
  return (
    <Flex as="nav" aria-label="Lies in" align="center" gap="1" mb="1" color="quiet" fontSize="row">
      {outer.map((address) => (
        <chakra.button
          key={address}
          type="button"
          cursor="pointer"
          truncate
          title="Esc goes out, too"
          _hover={{ color: "act" }}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          onClick={() => select(address)}
        >
          {`‹ ${layerAt(scene.layers, address)?.name}`}
        </chakra.button>
      ))}
    </Flex>
  );
}

/** How the layer is blended with what lies below it. */
function BlendRow({ layer, blends }: { layer: Layer; blends: string[] }) {
  const session = useSession();
  const { scene } = useScene();
  return (
    <Row label="Blending">
      <RowLabel>Blend</RowLabel>
      <Select
        label="Blend"
        width="120px"
        value={layer.blend ?? "normal"}
        disabled={layer.locked}
        options={blends.map((blend): [string, string] => [blend, blend.replace("-", " ")])}
        onChange={(blend) => void session.edit({ edit: "set_blend", layers: [layer.id!], blend } as Edit)}
      />
      {scene.motion_blur && (
        <Toggle
          label="Blurred"
          title="Blurred: smeared by its motion, as the scene is"
          on={layer.motion_blur !== false}
          disabled={layer.locked}
          press={() => void session.edit({ edit: "blur_layers", layers: [layer.id!], on: layer.motion_blur === false })}
        />
      )}
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
      <RowLabel>Span</RowLabel>
      <TimeField
        label="Start of the span"
        frame={start}
        width="57px"
        keep={(to) => void session.edit({ edit: "move_span", layer: layer.id!, start: to })}
      />
      <TimeField label="Length of the span" frame={length} least={1} width="57px" keep={(to) => trim(start, to)} />
      <Text fontSize="row" color="quiet">
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
