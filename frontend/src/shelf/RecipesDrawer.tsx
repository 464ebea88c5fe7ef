import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { unpackRecipes } from "../api/arrays";
import type { Layer } from "../api/client";
import { hasWords } from "../document/contents";
import { layerAt } from "../document/items";
import { useRestingFrame } from "../fields/UnseenNote";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { useSelection } from "../state/selection";
import { RecipeForm } from "./RecipeForm";
import { RecipePicture, useClock } from "./RecipePicture";

/** Ready-made motion: a small moving picture for each recipe, painted on the selected layer itself. */
export function RecipesDrawer() {
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const [chosen, setChosen] = useState<string | null>(null);
  const facts = useFacts();
  const layers = selected.flatMap((id) => layerAt(scene.layers, id) ?? []);
  const recipe = facts.recipes.find((recipe) => recipe.name === chosen);
  // A recipe that was being tried ends with the selection.
  const none = !layers.length;
  useEffect(() => {
    if (none) setChosen(null);
  }, [none]);
  if (!layers.length)
    return (
      <Text color="quiet" fontSize="row">
        Select one layer or several: the recipes show what they make of it.
      </Text>
    );
  if (recipe) return <RecipeForm key={recipe.name} recipe={recipe} layers={layers} back={() => setChosen(null)} />;
  return <Gallery layer={layers[0]} choose={setChosen} />;
}

/** What recipes are for, in the order of a layer's life. */
const PHASES = [
  ["in", "Coming in"],
  ["emphasis", "Emphasis"],
  ["out", "Through and out"],
  ["letters", "Letters, words and lines"],
] as const;

function Gallery({ layer, choose }: { layer: Layer; choose: (name: string) => void }) {
  const session = useSession();
  const { revision } = useScene();
  const { recipes } = useFacts();
  const frame = useRestingFrame();
  const clock = useClock();
  const { data } = useQuery({
    queryKey: ["recipes", session.sceneId, layer.id, revision, frame],
    queryFn: async () => {
      const path = `/api/scenes/${session.sceneId}/layers/${layer.id}/recipes?frame=${frame}`;
      const response = await fetch(path);
      if (!response.ok) throw new Error(`recipes: ${response.status}`);
      const found = unpackRecipes(await response.arrayBuffer());
      for (const message of found.items.values()) session.frames.learn(message);
      return found;
    },
    placeholderData: (before, query) => (query?.queryKey[2] === layer.id ? before : undefined),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
  });
  return (
    <Box role="group" aria-label="Recipes">
      <Text color="quiet" fontSize="row" mb="1.5">
        Ready-made motion of <b>{layer.name}</b>, from the playhead on
      </Text>
      {PHASES.filter(([phase]) => phase !== "letters" || hasWords(layer.content)).map(([phase, title]) => (
        <Box key={phase} role="group" aria-label={title} mt="3">
          <Text fontWeight={600} fontSize="title" mb="1">
            {title}
          </Text>
          <Flex wrap="wrap" gap="2" align="flex-start">
            {recipes
              .filter((recipe) => recipe.phase === phase)
              .map(({ name, sentence }) => {
                const why = data?.refused.get(name);
                return (
                  <chakra.button
                    key={name}
                    type="button"
                    aria-label={name}
                    title={why ?? sentence}
                    disabled={why !== undefined || layer.locked}
                    width="133px"
                    textAlign="left"
                    cursor="pointer"
                    borderRadius="9px"
                    _hover={{ color: "act" }}
                    _disabled={{ opacity: 0.5, cursor: "default" }}
                    _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
                    onClick={() => choose(name)}
                  >
                    <RecipePicture layer={layer.id!} message={data?.items.get(name)} clock={clock} />
                    <Text fontSize="row" px="0.5">
                      {name}
                    </Text>
                  </chakra.button>
                );
              })}
          </Flex>
        </Box>
      ))}
      {layer.locked && (
        <Text bg="finding" color="findingInk" borderRadius="8px" px="2" py="1" mt="2">
          This layer is locked. Unlock it in the lanes to change it.
        </Text>
      )}
    </Box>
  );
}
