import type { Layer } from "../api/client";
import { addressAt, isItem, isMask, itemsOf, layerAt, parentOf, placeIn } from "../document/items";
import { factsOf, labelOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { Block } from "../fields/Block";
import { Pill } from "../parts/Pill";
import { Flex } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { select, selection } from "../state/selection";
import { PropertyRow } from "./PropertyRow";

/** How often a shape or a group is drawn, and the step from each copy to the next. */
export function PatternBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const { scene } = useScene();
  const facts = useFacts();
  const inside = isItem(layer.id!);
  const parent = inside ? layerAt(scene.layers, parentOf(layer.id!)) : layer;
  if (!parent || isMask(layer.id!) || (!inside && itemsOf(layer).length !== 1)) return null;
  const index = inside ? placeIn(parent, layer.id!) : 0;
  const item = itemsOf(parent)[index];
  const start = `items.${index}.repeat`;
  const on = Boolean(item?.repeat);
  const toggle = async () => {
    const { frame } = session.frames;
    if (!(await session.edit({ edit: "set_repeat", layer: layer.id!, on: !on, frame })) || on || inside) return;
    // The shape has an anchor of its own now, about which its copies turn.
    const now = session.layer(layer.id!);
    if (now && selection().selected.join() === layer.id) select(addressAt(now, 0));
  };
  return (
    <Block
      name="Pattern"
      beside={
        <Flex flex="1" justify="flex-end">
          <Pill
            height="control"
            px="2.5"
            label="Repeat: draw it several times, each a step further"
            look={on ? "on" : "plain"}
            aria-pressed={on}
            disabled={layer.locked}
            onClick={() => void toggle()}
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
