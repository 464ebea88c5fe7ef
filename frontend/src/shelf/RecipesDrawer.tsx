import { X } from "lucide-react";
import { useEffect, useState } from "react";
import type { Layer, RecipeFacts } from "../api/client";
import { hasWords } from "../document/contents";
import { layerAt } from "../document/items";
import { IconButton } from "../parts/IconButton";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useKeptCascades } from "../session/cascades";
import { useMotions } from "../session/motions";
import { useFacts, useScene } from "../session/useScene";
import { page, sayProblem, setPage, usePage } from "../state/page";
import { useSelection } from "../state/selection";
import { KeepMotion } from "./KeepMotion";
import { type Also, RecipeForm } from "./RecipeForm";
import { RecipePicture, useClock } from "./RecipePicture";
import { SeveralRecipes } from "./SeveralRecipes";
import { useLayerPictures } from "./useLayerPictures";

/** Ready-made motion: a small moving picture for each recipe, painted on the selected layer itself. */
export function RecipesDrawer() {
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const [chosen, setChosen] = useState<string | null>(() => page().wanted);
  const wanted = usePage((state) => state.wanted);
  useEffect(() => {
    if (!wanted) return;
    setChosen(wanted);
    setPage({ wanted: null });
  }, [wanted]);
  const facts = useFacts();
  const layers = selected.flatMap((id) => layerAt(scene.layers, id) ?? []);
  const { kept, drop } = useKeptCascades();
  const own = kept.map(
    ({ name, length, cascade }): Offered => ({
      ...ofKept(name, length, cascade.each ?? 12),
      also: { recipe: "kept cascade", name, kept: cascade },
    }),
  );
  const { motions, drop: dropMotion } = useMotions();
  const moving = motions.map(
    ({ name, length, by, moves }): Offered => ({
      ...ofMotion(name, length, by),
      also: { recipe: "kept motion", name, moves },
    }),
  );
  const recipe = [...facts.recipes, ...own, ...moving].find((recipe: Offered) => recipe.name === chosen);
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
  return (
    <Gallery
      layers={layers}
      own={[...moving, ...(hasWords(layers[0].content) ? own : [])]}
      choose={setChosen}
      drop={(name) =>
        void (name.startsWith(KEPT) ? drop(name.slice(KEPT.length)) : dropMotion(name.slice(MOTION.length))).catch(
          sayProblem,
        )
      }
    />
  );
}

/** How the names begin under which the cascades are told that the project keeps. */
const KEPT = "kept: ";

const MOTION = "motion: ";

const shownName = (name: string) => {
  const begins = [KEPT, MOTION].find((one) => name.startsWith(one));
  return begins ? name.slice(begins.length) : name;
};

export type Offered = RecipeFacts & Also;

/** A cascade of the project's own as a recipe: how long it takes, and each of its letters. */
const ofKept = (name: string, length: number, each: number): RecipeFacts => ({
  name: `${KEPT}${name}`,
  phase: "letters",
  together: 0,
  sentence: `The cascade “${name}”, kept in this project.`,
  lasts: ["length"],
  fields: [frames("length", "Length", length, 1), frames("each", "Each takes", Math.round(each), 0)],
});

/** A motion of the project's own: how long it takes, and by what its ways are measured. */
const ofMotion = (name: string, length: number, by: string): RecipeFacts => ({
  name: `${MOTION}${name}`,
  phase: "in",
  together: 0,
  sentence: `The motion “${name}”, kept in this project: it lands on the layer as that is.`,
  lasts: ["length"],
  fields: [
    frames("length", "Length", length, 1),
    {
      ...frames("by", "Ways by", 0, 0),
      kind: "choice",
      unit: "",
      choices: ["its own size", "the scene"],
      default: by,
    },
  ],
});

const frames = (name: string, label: string, given: number, low: number): RecipeFacts["fields"][number] => ({
  name,
  label,
  unit: "f",
  parts: [""],
  kind: "number",
  whole: true,
  step: 1,
  low,
  high: 100_000,
  choices: [],
  default: given,
});

/** What recipes are for, in the order of a layer's life. */
const PHASES = [
  ["in", "Coming in"],
  ["emphasis", "Emphasis"],
  ["out", "Through and out"],
  ["letters", "Letters, words and lines"],
  ["own", "This project’s own"],
] as const;

interface GalleryProps {
  layers: Layer[];
  own: Offered[];
  choose: (name: string) => void;
  drop: (name: string) => void;
}

function Gallery({ layers, own, choose, drop }: GalleryProps) {
  const layer = layers[0];
  const { recipes } = useFacts();
  const clock = useClock();
  const data = useLayerPictures("recipes", layer);
  const words = hasWords(layer.content);
  const here = (phase: string) => (phase === "own" ? own.length > 0 : words || phase !== "letters");
  return (
    <Box role="group" aria-label="Recipes">
      <Text color="quiet" fontSize="row" mb="1.5">
        Ready-made motion of <b>{layer.name}</b>, from the playhead on
      </Text>
      <SeveralRecipes layers={layers} choose={choose} />
      {PHASES.filter(([phase]) => here(phase)).map(([phase, title]) => (
        <Box key={phase} role="group" aria-label={title} mt="3">
          <Text fontWeight={600} fontSize="title" mb="1">
            {title}
          </Text>
          <Flex wrap="wrap" gap="2" align="flex-start">
            {(phase === "own" ? own : recipes.filter((recipe) => recipe.phase === phase)).map(({ name, sentence }) => {
              const why = data?.refused.get(name);
              return (
                <Box key={name} position="relative">
                  <chakra.button
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
                    <Text fontSize="row" px="0.5" truncate>
                      {shownName(name)}
                    </Text>
                  </chakra.button>
                  {phase === "own" && (
                    <Box position="absolute" top="2px" right="2px">
                      <IconButton label={`Keep “${shownName(name)}” no longer`} onClick={() => drop(name)}>
                        <X size={12} />
                      </IconButton>
                    </Box>
                  )}
                </Box>
              );
            })}
          </Flex>
        </Box>
      ))}
      <KeepMotion layer={layer} />
      {layer.locked && (
        <Text bg="finding" color="findingInk" borderRadius="8px" px="2" py="1" mt="2">
          This layer is locked. Unlock it in the lanes to change it.
        </Text>
      )}
    </Box>
  );
}
