import { Bold, CaseUpper, FoldHorizontal, Italic, Minus, Plus, RotateCcw, UnfoldHorizontal } from "lucide-react";
import type { Layer } from "../api/client";
import { coloursOf } from "../fields/Swatches";
import { type TextContent, useTextScope } from "../kinds/layers/textScope";
import { IconButton } from "../parts/IconButton";
import { Box, chakra, Flex } from "../parts/styled";
import { useFontFacts } from "../session/projectFonts";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

const STEP = 10;
/** Thousandths of the size by which letters are tracked at a press. */
export const CLOSER = 10;
const PLAIN = { family: "Figtree", weight: 600, italic: false };

interface Props {
  layer: Layer;
  at: { left: number; top: number };
  /** What was typed is taken first: the letters are counted in it. */
  first: () => void;
}

/** What is used most, at the letters that are chosen; the panel has all. */
export function LettersBar({ layer, at, first }: Props) {
  const session = useSession();
  const facts = useFontFacts();
  const { scene } = useScene();
  const scope = useTextScope(layer);
  if (scope.words === undefined) return null;
  const font = { ...PLAIN, ...scope.now("font") };
  const rest = { ...PLAIN, ...(layer.content as TextContent).font };
  const family = facts.fonts.find(({ name }) => name === font.family);
  const nearest = (to: number) =>
    (family?.weights ?? [to]).reduce((a, b) => (Math.abs(b - to) < Math.abs(a - to) ? b : a));
  const heavy = font.weight > 550;
  const size = scope.size ?? 100;
  const resize = (by: number) => scope.setValue("size", Math.min(Math.max(Math.round(size) + by, 10), 1_000));
  const upper = scope.now("case") === "upper";
  return (
    <Flex
      role="toolbar"
      aria-label="Chosen letters"
      position="absolute"
      align="center"
      gap="1"
      px="1.5"
      height="30px"
      bg="paper"
      color="ink"
      borderRadius="8px"
      borderWidth="1px"
      borderColor="edge"
      boxShadow="0 4px 14px rgb(0 0 0 / 0.25)"
      zIndex={5}
      style={{ left: Math.max(at.left, 4), top: Math.max(at.top - 38, 4) }}
      // The keyboard stays with the letters.
      onMouseDown={(event) => event.preventDefault()}
      onClickCapture={first}
      onPointerDown={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
    >
      <IconButton
        label={heavy ? "Lighter" : "Heavier"}
        pressed={font.weight !== rest.weight}
        onClick={() => scope.set("font", { ...font, weight: nearest(heavy ? 400 : 700) })}
      >
        <Bold size={14} />
      </IconButton>
      {family?.italic && (
        <IconButton
          label="Italic"
          pressed={font.italic}
          onClick={() => scope.set("font", { ...font, italic: !font.italic })}
        >
          <Italic size={14} />
        </IconButton>
      )}
      <IconButton label="Capitals" pressed={upper} onClick={() => scope.set("case", upper ? "typed" : "upper")}>
        <CaseUpper size={15} />
      </IconButton>
      <IconButton label="Smaller" onClick={() => resize(-STEP)}>
        <Minus size={13} />
      </IconButton>
      <Box fontSize="caption" minWidth="34px" textAlign="center">
        {Math.round(size)} %
      </Box>
      <IconButton label="Larger" onClick={() => resize(STEP)}>
        <Plus size={13} />
      </IconButton>
      <IconButton
        label="Closer: what follows these letters, and they one another (Alt Shift ,)"
        onClick={() => scope.setValue("tracking", Math.max(scope.tracking - CLOSER, -1_000))}
      >
        <FoldHorizontal size={13} />
      </IconButton>
      <IconButton
        label="Further apart (Alt Shift .)"
        onClick={() => scope.setValue("tracking", Math.min(scope.tracking + CLOSER, 10_000))}
      >
        <UnfoldHorizontal size={13} />
      </IconButton>
      {coloursOf(scene)
        .slice(0, 6)
        .map((colour) => (
          <chakra.button
            key={colour}
            type="button"
            aria-label={`Fill ${colour}`}
            title={`Fill ${colour}`}
            width="16px"
            height="16px"
            borderRadius="full"
            borderWidth="1px"
            borderColor="field"
            cursor="pointer"
            style={{ background: colour }}
            onClick={() => scope.setValue("fill", colour)}
          />
        ))}
      {scope.part && (
        <IconButton
          label="As the rest"
          onClick={() => {
            const { start, stop } = scope.part!;
            void session.edit({ edit: "set_letters", layer: layer.id!, start, stop, to: {} });
          }}
        >
          <RotateCcw size={13} />
        </IconButton>
      )}
    </Flex>
  );
}
