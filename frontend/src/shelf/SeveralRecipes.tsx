import { Merge, Users } from "lucide-react";
import type { Layer } from "../api/client";
import { Box, chakra, Text } from "../parts/styled";
import { useFacts } from "../session/useScene";

/** Which of two layers ends where the other begins, and that one; null where they do not meet. */
export function meeting(layers: Layer[]): [Layer, Layer] | null {
  if (layers.length !== 2) return null;
  const ends = (one: Layer) => one.span.start + one.span.length;
  const [a, b] = layers;
  if (ends(a) === b.span.start) return [a, b];
  return ends(b) === a.span.start ? [b, a] : null;
}

/** Recipes for several layers as one, and for the cut where two meet: by their sentences, tried on the stage. */
export function SeveralRecipes({ layers, choose }: { layers: Layer[]; choose: (name: string) => void }) {
  const { recipes } = useFacts();
  const cut = meeting(layers);
  const groups = [
    cut
      ? {
          phase: "cut",
          title: `For the cut from ${cut[0].name} to ${cut[1].name}`,
          icon: <Merge size={15} aria-hidden />,
        }
      : null,
    layers.length > 1
      ? { phase: "several", title: "Several layers as one", icon: <Users size={15} aria-hidden /> }
      : null,
  ].filter((one) => one !== null);
  return groups.map(({ phase, title, icon }) => (
    <Box key={phase} role="group" aria-label={title} mt="2">
      <Text fontWeight={600} fontSize="title" mb="1">
        {title}
      </Text>
      {recipes
        .filter((recipe) => recipe.phase === phase)
        .map(({ name, sentence }) => (
          <chakra.button
            key={name}
            type="button"
            aria-label={name}
            display="flex"
            gap="2"
            width="100%"
            textAlign="left"
            py="1"
            px="1"
            cursor="pointer"
            borderRadius="8px"
            _hover={{ bg: "actWash" }}
            _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
            onClick={() => choose(name)}
          >
            <Box pt="0.5" color="act">
              {icon}
            </Box>
            <Box>
              <Text fontWeight={600} fontSize="row">
                {name}
              </Text>
              <Text color="quiet" fontSize="caption">
                {sentence}
              </Text>
            </Box>
          </chakra.button>
        ))}
    </Box>
  ));
}
