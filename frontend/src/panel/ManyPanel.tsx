import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Edit, Facts, Layer } from "../api/client";
import { hasItems } from "../document/contents";
import { isItem, isMask } from "../document/items";
import { factsOf, labelOf, placeOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { ColourField } from "../fields/ColourField";
import { NumberField } from "../fields/NumberField";
import { Row } from "../fields/Row";
import { keyState } from "../keys/keyState";
import { KindIcon } from "../kinds/layers";
import { ItemTree } from "../kinds/layers/ItemTree";
import type { Typed } from "../parts/arithmetic";
import { openMenuBelow } from "../parts/FloatMenu";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useCopied } from "../state/formulas";
import { setPage } from "../state/page";
import { select } from "../state/selection";
import { roleColour } from "../theme/theme";
import { ArrangeBlock } from "./ArrangeBlock";
import { EasingBlock } from "./EasingBlock";
import { KeysBlock } from "./KeysBlock";
import { SeveralBlock } from "./SeveralBlock";

/** Several layers: what they have in common, mixed where they differ; calculations such as +10 step each from its own. */
export function ManyPanel({ layers, facts }: { layers: Layer[]; facts: Facts }) {
  const { scene } = useScene();
  const tracks = layers.map(tracksOf);
  const common = Object.keys(tracks[0])
    .filter(
      (name) =>
        name !== "anchor" &&
        !name.endsWith(".at") &&
        !name.endsWith(".points") &&
        tracks.every((track) => name in track),
    )
    .sort((a, b) => placeOf(layers[0], a, facts) - placeOf(layers[0], b, facts));
  return (
    <Box>
      <Text fontWeight={700} fontSize="name" mb="2">
        {layers.length} {isMask(layers[0].id!) ? "masks" : isItem(layers[0].id!) ? "shapes" : "layers"}
      </Text>
      {isItem(layers[0].id!) && <ItemTree layer={layers[0]} />}
      <MaskWith layers={layers} />
      {!isItem(layers[0].id!) && (
        <Flex mb="2">
          <Pill height="control" px="3" onClick={() => setPage({ dialog: "nest" })}>
            Put into a scene of its own…
          </Pill>
        </Flex>
      )}
      {common.map((name) => (
        <ManyRow
          key={name}
          layers={layers}
          name={name}
          facts={facts}
          colour={typeof tracks[0][name].rest === "string"}
        />
      ))}
      <KeysBlock />
      <EasingBlock layers={layers} scene={scene} facts={facts} />
      {!isItem(layers[0].id!) && <SeveralBlock layers={layers} facts={facts} />}
      <ArrangeBlock layers={layers} />
      <Box borderTopWidth="1px" borderColor="edge" mt="2.5" pt="1.5">
        {layers.map((layer) => (
          <Flex
            as="button"
            key={layer.id}
            align="center"
            gap="2"
            height="24px"
            width="100%"
            cursor="pointer"
            aria-label={`Select ${layer.name} alone`}
            onClick={() => select(layer.id!)}
          >
            <KindIcon layer={layer} />
            <Text truncate>{layer.name}</Text>
          </Flex>
        ))}
      </Box>
    </Box>
  );
}

/** Of a layer and a shape over it, the shape can be made its mask. */
function MaskWith({ layers }: { layers: Layer[] }) {
  const session = useSession();
  const { scene } = useScene();
  if (layers.length !== 2 || isItem(layers[0].id!)) return null;
  const order = (scene.layers ?? []).map(({ id }) => id);
  const [back, front] = [...layers].sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
  if (!hasItems(front.content)) return null;
  const mask = async () => {
    const { frame } = session.frames;
    if (await session.edit({ edit: "mask_with", layer: back.id!, by: front.id!, frame })) select(back.id!);
  };
  return (
    <Flex mb="2">
      <Pill height="control" px="3" disabled={back.locked || front.locked} onClick={() => void mask()}>
        {`Mask ${back.name} with ${front.name}`}
      </Pill>
    </Flex>
  );
}

/** A property's name: pressed, it gives all the layers the formula that was copied, or takes theirs off. */
function ManyName({ layers, name, label, tone }: { layers: Layer[]; name: string; label: string; tone: string }) {
  const session = useSession();
  const { text: copied } = useCopied();
  const having = layers.filter((layer) => tracksOf(layer)[name]?.formula);
  const acts: [string, () => void][] = [];
  const all = (to: Layer[], text: string) => () =>
    void session.edit(...to.map(({ id }): Edit => ({ edit: "set_formula", layer: id!, property: name, text })));
  if (copied) acts.push(["Paste the formula onto all", all(layers, copied)]);
  if (having.length) acts.push([having.length > 1 ? "Take the formulas off" : "Take the formula off", all(having, "")]);
  const words = {
    width: "76px",
    pl: "6px",
    flex: "none",
    fontWeight: 600,
    color: tone,
    fontSize: "row",
    truncate: true,
  };
  if (!acts.length || layers.some((layer) => layer.locked))
    return (
      <Text {...words} title={label}>
        {label}
      </Text>
    );
  return (
    <chakra.button
      type="button"
      aria-label={`${label}: formulas`}
      aria-haspopup="menu"
      title={`${label}: formulas`}
      cursor="pointer"
      textAlign="left"
      borderRadius="5px"
      {...words}
      _hover={{ textDecoration: "underline" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
      onClick={(event) => openMenuBelow(label, acts, event.currentTarget)}
    >
      {label}
    </chakra.button>
  );
}

const KEYED = {
  still: (label: string) => `${label} is not keyed. Start keying all of them here`,
  here: (label: string) => `${label} has a key here in all of them. Delete these`,
  between: (label: string) => `${label} has no key here in some of them. Make these now`,
};

/** The pebble of a property of several layers: a key in all of them, or none. */
function ManyPebble({ layers, name, label, tone }: { layers: Layer[]; name: string; label: string; tone: string }) {
  const session = useSession();
  const button = useRef<HTMLButtonElement>(null);
  const states = () => layers.map((layer) => keyState(layer, tracksOf(layer)[name], session.frames.frame));
  useEffect(() => {
    const paint = () => {
      const all = states();
      const state = all.every((one) => one === "here")
        ? "here"
        : all.every((one) => one === "still")
          ? "still"
          : "between";
      if (button.current!.dataset.state === state) return;
      button.current!.dataset.state = state;
      button.current!.ariaLabel = button.current!.title = KEYED[state](label);
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  });
  const press = () => {
    const { frame } = session.frames;
    const all = states();
    if (all.every((one) => one === "here"))
      void session.edit({ edit: "delete_keys", keys: layers.map(({ id }) => ({ layer: id!, property: name, frame })) });
    else
      void session.edit(
        ...layers
          .filter((_, i) => all[i] !== "here")
          .map(({ id }): Edit => ({ edit: "start_keying", layer: id!, property: name, frame })),
      );
  };
  return (
    <button
      ref={button}
      type="button"
      className="state"
      data-testid={`pebble-${name}`}
      disabled={layers.some(({ locked }) => locked)}
      style={{ "--tone": roleColour(tone) } as React.CSSProperties}
      onClick={press}
    />
  );
}

interface RowProps {
  layers: Layer[];
  name: string;
  facts: Facts;
  colour: boolean;
}

function ManyRow({ layers, name, facts, colour }: RowProps) {
  const session = useSession();
  const about = factsOf(layers[0], name, facts);
  const label = labelOf(layers[0], name, facts);
  const ids = layers.map((layer) => layer.id!);
  const locked = layers.some((layer) => layer.locked);

  const numbers = (id: string) => {
    const arrays = session.frames.layer(id);
    return arrays && name in arrays.values ? row(arrays, arrays.values[name], session.frames.frame) : null;
  };
  const same = (part: number) => {
    const found = ids.map((id) => numbers(id)?.[part]);
    return found.every((n) => n !== undefined && Math.abs(n - found[0]!) < 1e-3) ? found[0]! : null;
  };
  const send = (change: Partial<Extract<Edit, { edit?: "change_property" }>>, keep: boolean, run?: string) => {
    const edit = {
      edit: "change_property",
      layers: ids,
      property: name,
      frame: session.frames.frame,
      ...change,
    } as Edit;
    if (keep) void session.keep(run, edit);
    else session.try([edit]);
  };
  const many = (part: 0 | 1 | null) => (typed: Typed, keep: boolean, run?: string) =>
    send({ ...typed, part }, keep, run);

  return (
    <Row label={label}>
      <ManyPebble layers={layers} name={name} label={label} tone={about.role} />
      <ManyName layers={layers} name={name} label={label} tone={about.role} />
      {colour ? (
        <ColourField
          label={label}
          numbers={() => [...(numbers(ids[0]) ?? [0, 0, 0, 255])]}
          disabled={locked}
          set={(value, keep, named) =>
            named
              ? session.edit(
                  ...ids.map(
                    (layer) =>
                      ({
                        edit: "set_property",
                        layer,
                        property: name,
                        frame: session.frames.frame,
                        value,
                        named,
                      }) as Edit,
                  ),
                )
              : send({ way: "set", value }, keep)
          }
        />
      ) : (
        about.parts.map((part, index) => (
          <NumberField
            key={part || name}
            label={part ? `${label} ${part}` : label}
            unit={about.parts.length > 1 ? part : about.unit}
            step={about.step}
            width={about.parts.length > 1 ? "57px" : "120px"}
            disabled={locked}
            read={() => same(index)}
            keep={() => {}}
            many={many(about.parts.length > 1 ? (index as 0 | 1) : null)}
          />
        ))
      )}
    </Row>
  );
}
