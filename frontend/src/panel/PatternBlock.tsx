import { Flex } from "@chakra-ui/react";
import type { Layer } from "../api/client";
import { Block } from "../fields/Block";
import { Pill } from "../parts/Pill";
import { factsOf, labelOf, useFacts, useScene } from "../studio/document";
import { isBare, isItem, isMask, itemsOf, layerAt, parentOf, placeIn } from "../studio/items";
import { useSession } from "../studio/session";
import { tracksOf } from "../studio/tracks";
import { PropertyRow } from "./PropertyRow";

/** How often a shape or a group is drawn, and the step from each copy to the next. */
export function PatternBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const facts = useFacts();
  const inside = isItem(layer.id!);
  const parent = inside ? layerAt(scene.layers, parentOf(layer.id!)) : layer;
  if (!parent || isMask(layer.id!) || (!inside && !isBare(layer))) return null;
  const index = inside ? placeIn(parent, layer.id!) : 0;
  const item = itemsOf(parent)[index];
  const start = `items.${index}.repeat`;
  const toggle = () =>
    void session.edit({
      edit: "set_content",
      layer: parent.id!,
      path: start,
      value: (item?.repeat ? null : { move: [40, 0] }) as never,
    });
  return (
    <Block
      name="Pattern"
      beside={
        <Flex flex="1" justify="flex-end">
          <Pill
            height="23px"
            px="2.5"
            label="Draw it several times, each a step further"
            look={item?.repeat ? "on" : "plain"}
            aria-pressed={Boolean(item?.repeat)}
            disabled={layer.locked}
            onClick={toggle}
          >
            Repeat
          </Pill>
        </Flex>
      }
    >
      {item?.repeat &&
        Object.entries(tracksOf(parent))
          .filter(([name]) => name.startsWith(`content.${start}.`))
          .map(([name, track]) => (
            <PropertyRow
              key={name}
              layer={parent}
              name={name}
              label={labelOf(parent, name, facts).split(" of ")[0].replace(/ \d+$/, "")}
              facts={factsOf(parent, name, facts)}
              track={track}
            />
          ))}
    </Block>
  );
}
