import { X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Edit, Layer } from "../api/client";
import { layerAt } from "../document/items";
import { IconButton } from "../parts/IconButton";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { useLooks } from "../session/looks";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { showEffect } from "../state/effects";
import { say, sayProblem } from "../state/page";
import { useSelection } from "../state/selection";
import { RecipePicture, useClock } from "./RecipePicture";
import { useLayerPictures } from "./useLayerPictures";

/** How the names begin under which looks are told. */
const LOOK = "look: ";
/** How long a pointer rests on an effect before it is tried on the stage, in milliseconds. */
const REST = 160;

/** Effects as small pictures of the selected layer, found by words; tried on the stage under the pointer or the keyboard. */
export function EffectsDrawer() {
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const layers = selected.flatMap((id) => layerAt(scene.layers, id) ?? []);
  if (!layers.length)
    return (
      <Text color="quiet" fontSize="row">
        Select one layer or several: the effects show what they make of it.
      </Text>
    );
  return <Gallery layers={layers} />;
}

function Gallery({ layers }: { layers: Layer[] }) {
  const session = useSession();
  const { effects } = useFacts();
  const { looks, drop } = useLooks();
  const clock = useClock();
  const [typed, setTyped] = useState("");
  const [layer] = layers;
  const data = useLayerPictures("effects", layer);
  const timer = useRef(0);
  const rest = () => {
    window.clearTimeout(timer.current);
    session.cancel();
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is tried ends with the drawer
  useEffect(() => rest, []);
  const editsOf = (name: string): Edit[] => {
    const look = looks.find((one) => `${LOOK}${one.name}` === name);
    const ids = layers.map(({ id }) => id!);
    if (look) return [{ edit: "paste_effects", layers: ids, effects: look.effects as never, replace: false }];
    return ids.map((id) => ({ edit: "add_effect", layer: id, effect: name }));
  };
  const attempt = (name: string) => {
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => session.try(editsOf(name)), REST);
  };
  const take = (name: string, label: string) => {
    window.clearTimeout(timer.current);
    void session.edit(...editsOf(name)).then((kept) => {
      if (!kept) return;
      say(`${label}: its numbers are in the panel, under Effects.`, true);
      const made = session.layer(layer.id!)?.effects?.at(-1);
      if (made && effects[made.effect!]?.points.length) showEffect(layer.id!, made.id!);
    });
  };
  const wanted = typed.trim().toLowerCase();
  const matches = (label: string, words: string) =>
    !wanted || wanted.split(/\s+/).every((word) => `${label} ${words}`.toLowerCase().includes(word));
  const kinds = Object.entries(effects).filter(([, { label, words }]) => matches(label, words));
  const own = looks.filter(({ name }) => matches(name, "look own project"));
  const { locked } = layer;
  const tile = (name: string, label: string, more?: React.ReactNode) => {
    const why = data?.refused.get(name);
    return (
      <Box key={name} position="relative">
        <chakra.button
          type="button"
          aria-label={label}
          title={why ?? label}
          disabled={why !== undefined || locked}
          width="133px"
          textAlign="left"
          cursor="pointer"
          borderRadius="9px"
          _hover={{ color: "act" }}
          _disabled={{ opacity: 0.5, cursor: "default" }}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          onPointerEnter={() => attempt(name)}
          onPointerLeave={rest}
          onFocus={() => attempt(name)}
          onBlur={rest}
          onClick={() => take(name, label)}
        >
          <RecipePicture layer={layer.id!.split("/")[0]} message={data?.items.get(name)} clock={clock} />
          <Text fontSize="row" px="0.5" truncate>
            {label}
          </Text>
        </chakra.button>
        {more}
      </Box>
    );
  };
  return (
    <Box role="group" aria-label="Effects to choose from">
      <TextInput
        aria-label="Find an effect"
        placeholder="softer, shadow, print…"
        value={typed}
        width="100%"
        mb="2"
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape" && typed) {
            event.stopPropagation();
            setTyped("");
          }
          if (event.key === "Enter" && !event.repeat && wanted && kinds.length) take(kinds[0][0], kinds[0][1].label);
        }}
      />
      <Flex wrap="wrap" gap="2" align="flex-start">
        {kinds.map(([name, { label }]) => tile(name, label))}
      </Flex>
      {own.length > 0 && (
        <Box role="group" aria-label="This project’s looks" mt="3">
          <Text fontWeight={600} fontSize="title" mb="1">
            This project’s looks
          </Text>
          <Flex wrap="wrap" gap="2" align="flex-start">
            {own.map(({ name }) =>
              tile(
                `${LOOK}${name}`,
                name,
                <Box position="absolute" top="2px" right="2px">
                  <IconButton label={`Keep “${name}” no longer`} onClick={() => void drop(name).catch(sayProblem)}>
                    <X size={12} />
                  </IconButton>
                </Box>,
              ),
            )}
          </Flex>
        </Box>
      )}
      {!kinds.length && !own.length && (
        <Text color="quiet" fontSize="row">
          No effect is found by “{typed.trim()}”.
        </Text>
      )}
      {locked && (
        <Text bg="finding" color="findingInk" borderRadius="8px" px="2" py="1" mt="2">
          This layer is locked. Unlock it in the lanes to change it.
        </Text>
      )}
    </Box>
  );
}
