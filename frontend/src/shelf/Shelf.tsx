import {
  Blend,
  Circle,
  Clapperboard,
  Hash,
  Hexagon,
  ImagePlus,
  Images,
  type LucideIcon,
  MoveUpRight,
  Plus,
  RectangleHorizontal,
  Route,
  Slash,
  Spline,
  SquareDashed,
  Star,
  TextCursorInput,
  X,
} from "lucide-react";
import { useRef } from "react";
import type { Edit } from "../api/client";
import { LAYER_KINDS } from "../kinds/layers";
import { SHAPES } from "../kinds/shapes";
import { walkByArrows } from "../parts/arrowWalk";
import { focusByKeys, toStage } from "../parts/focus";
import { IconButton } from "../parts/IconButton";
import { Pill } from "../parts/Pill";
import { Box, chakra, Flex, Grid, Text } from "../parts/styled";
import { startDrawing } from "../session/drawnPath";
import { useScene } from "../session/useScene";
import { DRAWN, DRAWN_WORDS, type Drawn, drawNext } from "../state/drawing";
import { type Drawer, setPage, usePage } from "../state/page";
import { useSelection } from "../state/selection";
import { EffectsDrawer } from "./EffectsDrawer";
import { MediaDrawer } from "./MediaDrawer";
import { useAddFiles } from "./pictures";
import { RecipesDrawer } from "./RecipesDrawer";
import { SlotsDrawer } from "./SlotsDrawer";
import { useAdd } from "./useAdd";

type Content = Extract<Edit, { edit?: "add_layer" }>["content"];

const TITLES = { add: "Add", recipes: "Recipes", media: "Media", effects: "Effects", slots: "Slots" } satisfies Record<
  Drawer,
  string
>;
const DRAWN_ICONS: Record<Drawn, LucideIcon> = {
  rectangle: RectangleHorizontal,
  ellipse: Circle,
  polygon: Hexagon,
  star: Star,
  line: Slash,
  arrow: MoveUpRight,
  text: TextCursorInput,
  mask: SquareDashed,
};
const WIDE = "52px";
const DRAWER = "min(300px, 30vw)";

/** How much an open drawer takes from the stage, the poses and the lanes; the shelf alone stands beside the stage. */
export const useShelfRoom = () => {
  const drawer = usePage((state) => state.drawer);
  return drawer ? { beside: "0px", all: `calc(${WIDE} + ${DRAWER})` } : { beside: WIDE, all: "0px" };
};

/** The shelf: what can be added, and the project's media, in a drawer that pushes the rest aside. */
export function Shelf() {
  const drawer = usePage((state) => state.drawer);
  const byKey = useRef(false);
  const toggle = (name: Drawer, key: boolean) => {
    byKey.current = key;
    setPage({ drawer: drawer === name ? null : name });
  };
  return (
    <Flex position="absolute" left="0" top="0" bottom={drawer ? "0" : undefined} zIndex="2">
      <Flex
        as="nav"
        aria-label="Shelf"
        direction="column"
        width={WIDE}
        pt="2"
        gap="1"
        align="center"
        bg={drawer ? "paper" : undefined}
        borderRightWidth={drawer ? "1px" : undefined}
        borderColor="edge"
      >
        <Tab label="Add" on={drawer === "add"} onClick={(key) => toggle("add", key)}>
          <Plus size={17} />
        </Tab>
        <Tab label="Recipes" on={drawer === "recipes"} onClick={(key) => toggle("recipes", key)}>
          <Route size={17} />
        </Tab>
        <Tab label="Effects" on={drawer === "effects"} onClick={(key) => toggle("effects", key)}>
          <Blend size={17} />
        </Tab>
        <Tab label="Media" on={drawer === "media"} onClick={(key) => toggle("media", key)}>
          <Images size={17} />
        </Tab>
        <Tab label="Slots" on={drawer === "slots"} onClick={(key) => toggle("slots", key)}>
          <Hash size={17} />
        </Tab>
      </Flex>
      {drawer && (
        <Flex
          as="section"
          aria-label={TITLES[drawer]}
          direction="column"
          width={DRAWER}
          bg="paper"
          borderRightWidth="1px"
          borderColor="edge"
          data-testid="drawer"
        >
          <Flex align="center" height="38px" flex="none" pl="3" pr="2">
            <Text as="h2" fontWeight={600} fontSize="title" flex="1">
              {TITLES[drawer]}
            </Text>
            <IconButton
              label={`Close ${TITLES[drawer]}`}
              onClick={() => {
                setPage({ drawer: null });
                toStage(null);
              }}
            >
              <X size={15} />
            </IconButton>
          </Flex>
          <Box
            flex="1"
            minHeight="0"
            overflowY="auto"
            px="3"
            pb="3"
            data-arrows
            ref={(home: HTMLDivElement | null) => {
              // Opened by a key, it has the keyboard, and the arrows go through it.
              if (home && byKey.current) {
                byKey.current = false;
                const first = home.querySelector<HTMLElement>("button:not(:disabled)");
                if (first) focusByKeys(first);
              }
            }}
            onKeyDown={(event: React.KeyboardEvent<HTMLElement>) => walkByArrows(event)}
          >
            {drawer === "add" && <AddDrawer />}
            {drawer === "recipes" && <RecipesDrawer />}
            {drawer === "media" && <MediaDrawer />}
            {drawer === "effects" && <EffectsDrawer />}
            {drawer === "slots" && <SlotsDrawer />}
          </Box>
        </Flex>
      )}
    </Flex>
  );
}

function Tab({
  label,
  on,
  onClick,
  children,
}: {
  label: string;
  on: boolean;
  /** `byKey` says that a key pressed it. */
  onClick: (byKey: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <chakra.button
      type="button"
      aria-expanded={on}
      onClick={(event) => onClick(event.detail === 0)}
      width="42px"
      py="1.5"
      borderRadius="10px"
      display="flex"
      flexDirection="column"
      alignItems="center"
      gap="0.5"
      fontSize="caption"
      cursor="pointer"
      bg={on ? "actWash" : undefined}
      color={on ? "act" : "ink"}
      _hover={{ color: "act" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
    >
      {children}
      {label}
    </chakra.button>
  );
}

function AddDrawer() {
  const { scene } = useScene();
  const one = useSelection((state) => state.selected.length === 1);
  const add = useAdd();
  const file = useRef<HTMLInputElement>(null);
  const addFiles = useAddFiles();
  const side = Math.max(Math.round(Math.min(scene.width, scene.height) / 4), 8);
  return (
    <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap="1.5">
      <Text color="quiet" fontSize="row" gridColumn="1 / -1">
        Draw on the stage (D)
      </Text>
      <Flex gap="1" gridColumn="1 / -1" flexWrap="wrap" mb="1">
        {DRAWN.map((what) => {
          const Icon = DRAWN_ICONS[what];
          return (
            <Pill
              key={what}
              label={`Draw: ${DRAWN_WORDS[what]}`}
              px="2"
              disabled={what === "mask" && !one}
              onClick={() => {
                setPage({ drawer: null });
                drawNext(what);
              }}
            >
              <Icon size={15} />
            </Pill>
          );
        })}
      </Flex>
      <Text color="quiet" fontSize="row" gridColumn="1 / -1">
        Add to the middle of the scene
      </Text>
      {SHAPES.map(
        ({ name, shape, icon: Icon, makes }) =>
          makes && (
            <Pill
              key={name}
              justifyContent="flex-start"
              onClick={() =>
                void add({ kind: "shape", items: [{ shape, ...makes(side) }] } as unknown as Content, name)
              }
            >
              <Icon size={15} /> {name}
            </Pill>
          ),
      )}
      <Pill
        justifyContent="flex-start"
        onClick={() => {
          setPage({ drawer: null });
          startDrawing("");
        }}
      >
        <Spline size={15} /> Draw a path
      </Pill>
      {LAYER_KINDS.map(
        ({ kind, icon: Icon, added }) =>
          added && (
            <Pill
              key={kind}
              justifyContent="flex-start"
              onClick={() => void add(added.makes(scene) as unknown as Content)}
            >
              <Icon size={15} /> {added.label}
            </Pill>
          ),
      )}
      <Pill justifyContent="flex-start" onClick={() => file.current!.click()}>
        <ImagePlus size={15} /> From a file…
      </Pill>
      <Pill justifyContent="flex-start" onClick={() => setPage({ drawer: "media" })}>
        <Clapperboard size={15} /> Scene
      </Pill>
      <chakra.input
        ref={file}
        type="file"
        accept="image/png,image/jpeg,image/webp,image/gif,image/svg+xml,image/avif,image/heic,.svg,.pdf,.avif,.heic,.heif,video/*,audio/*,.mkv,.mov,.apng,.zip,.srt,.vtt,.ttml,.csv,.tsv,.xlsx,.css,.otio,.json,.gpl,.ase,.ttf,.otf,.ttc,.woff,.woff2"
        multiple
        display="none"
        data-testid="picture-file"
        onChange={(event) => {
          void addFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </Grid>
  );
}
