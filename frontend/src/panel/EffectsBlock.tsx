import { Eye, EyeOff, MoveDown, MoveUp, Plus, Trash2 } from "lucide-react";
import type { Layer } from "../api/client";
import { factsOf } from "../document/properties";
import { tracksOf } from "../document/tracks";
import { Block } from "../fields/Block";
import { type Act, openMenuBelow } from "../parts/FloatMenu";
import { IconButton } from "../parts/IconButton";
import { Box, Flex } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts } from "../session/useScene";
import { PropertyRow } from "./PropertyRow";

type Effect = NonNullable<Layer["effects"]>[number];

/** What is done to a layer's picture, one after another; each is on or off, and its numbers are properties. */
export function EffectsBlock({ layer }: { layer: Layer }) {
  const session = useSession();
  const kinds = Object.entries(useFacts().effects);
  const effects = layer.effects ?? [];
  const add = (effect: string) => void session.edit({ edit: "add_effect", layer: layer.id!, effect });
  const offer = (button: Element) =>
    openMenuBelow(
      "Add an effect",
      kinds.map(([kind, label]): Act => [label, () => add(kind)]),
      button,
    );
  return (
    <Block
      name="Effects"
      beside={
        <Flex flex="1" justify="flex-end" align="center">
          <button
            type="button"
            className="bare"
            aria-label="Add an effect"
            title="Add an effect"
            aria-haspopup="menu"
            disabled={layer.locked}
            onClick={({ currentTarget }) => offer(currentTarget)}
          >
            <Plus size={15} />
          </button>
        </Flex>
      }
    >
      <Box role="list" aria-label={`Effects of ${layer.name}`}>
        {effects.map((effect, index) => (
          <Row key={effect.id} layer={layer} effect={effect} index={index} last={index === effects.length - 1} />
        ))}
      </Box>
    </Block>
  );
}

interface Props {
  layer: Layer;
  effect: Effect;
  index: number;
  last: boolean;
}

function Row({ layer, effect, index, last }: Props) {
  const session = useSession();
  const facts = useFacts();
  const name = effect.name || facts.effects[effect.effect!];
  const on = effect.visible !== false;
  const one = { layer: layer.id!, effect: effect.id! };
  const set = (change: { visible?: boolean; to?: number }) =>
    void session.edit({ edit: "set_effect", ...one, ...change });
  const Mark = on ? Eye : EyeOff;
  return (
    <Box role="listitem" aria-label={name}>
      <Flex align="center" gap="1.5" height="27px">
        <Box flex="1" minWidth="0" truncate fontWeight={500} color={on ? "ink" : "quiet"}>
          {name}
        </Box>
        <IconButton
          label={`Run ${name} earlier`}
          disabled={layer.locked || index === 0}
          onClick={() => set({ to: index - 1 })}
        >
          <MoveUp size={14} />
        </IconButton>
        <IconButton label={`Run ${name} later`} disabled={layer.locked || last} onClick={() => set({ to: index + 1 })}>
          <MoveDown size={14} />
        </IconButton>
        <IconButton
          label={`Take ${name} off`}
          disabled={layer.locked}
          onClick={() => void session.edit({ edit: "remove_effect", ...one })}
        >
          <Trash2 size={14} />
        </IconButton>
        <IconButton
          label={on ? `Switch ${name} off` : `Switch ${name} on`}
          color={on ? "act" : "quiet"}
          disabled={layer.locked}
          onClick={() => set({ visible: !on })}
        >
          <Mark size={13} />
        </IconButton>
      </Flex>
      {Object.entries(tracksOf(layer))
        .filter(([path]) => path.startsWith(`effects.${index}.`))
        .map(([path, track]) => (
          <PropertyRow
            key={path}
            layer={layer}
            name={path}
            label={factsOf(layer, path, facts).label}
            facts={factsOf(layer, path, facts)}
            track={track}
          />
        ))}
    </Box>
  );
}
