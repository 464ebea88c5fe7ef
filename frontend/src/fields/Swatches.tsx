import { ChevronDown } from "lucide-react";
import type { Scene } from "../api/client";
import { Popover } from "../parts/Popover";
import { Box, chakra, Text } from "../parts/styled";
import { DraftInput } from "../parts/TextInput";
import { useScene } from "../session/useScene";
import { sayProblem } from "../state/page";
import { CHEQUER } from "../theme/theme";
import { ProjectColours } from "./ProjectColours";

const PLACE = "mudskipper.colours";
const MOST = 16;

const recent = (): string[] => {
  try {
    const kept = JSON.parse(localStorage.getItem(PLACE) ?? "[]");
    return Array.isArray(kept) ? kept.filter((one) => /^#[0-9a-f]{8}$/.test(one)) : [];
  } catch {
    return [];
  }
};

/** Remember a colour as used last, on this machine. */
export function remember(colour: string) {
  const others = recent().filter((one) => one !== colour);
  localStorage.setItem(PLACE, JSON.stringify([colour, ...others].slice(0, MOST)));
}

/** A colour as typed, in 3, 4, 6 or 8 digits as CSS writes them, in full; null where it is none. */
function readColour(text: string): string | null {
  const digits = /^#?([0-9a-f]{3,8})$/.exec(text.trim().toLowerCase())?.[1] ?? "";
  const full = digits.length < 5 ? [...digits].map((digit) => digit + digit).join("") : digits;
  if (full.length === 6) return `#${full}ff`;
  return full.length === 8 ? `#${full}` : null;
}

interface Props {
  label: string;
  value: () => string;
  set: (colour: string, named?: string) => void;
  disabled?: boolean;
  /** What else there is to choose, above the colours. */
  more?: React.ReactNode;
}

/** Recent colours, the scene's own, and a field for one as #rrggbbaa. */
export function Swatches({ label, value, set, disabled, more }: Props) {
  return (
    <Popover
      label={`Colours for ${label}`}
      width="250px"
      placement="bottom"
      testId="swatches"
      trigger={
        <chakra.button
          type="button"
          aria-label={`More colours for ${label}`}
          title="Recent colours"
          disabled={disabled}
          color="quiet"
          cursor="pointer"
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        >
          <ChevronDown size={13} />
        </chakra.button>
      }
    >
      {(close) => (
        <>
          {more}
          <Choices
            label={label}
            value={value}
            set={(colour, named) => {
              set(colour, named);
              close();
            }}
          />
        </>
      )}
    </Popover>
  );
}

/** The colours that a scene is painted with. */
export const coloursOf = (scene: Scene) => [...new Set(JSON.stringify(scene.layers).match(/#[0-9a-f]{8}/g) ?? [])];

function Choices({ label, value, set }: Props) {
  const { scene } = useScene();
  const used = coloursOf(scene).slice(0, MOST);
  return (
    <>
      <DraftInput
        label={`${label} as #rrggbbaa`}
        text={value()}
        width="100%"
        mb="2"
        take={(text) => {
          const colour = readColour(text);
          if (colour) set(colour);
          else
            sayProblem(
              new Error(`A colour is written #rrggbb or #rrggbbaa, and “${text}” is not. Nothing was changed.`),
            );
          return colour !== null;
        }}
      />
      <ProjectColours label={label} value={value} use={set} />
      {(
        [
          ["Recent", recent()],
          ["In this scene", used],
        ] as [string, string[]][]
      ).map(([title, colours]) => (
        <Box key={title} mb="2">
          <Text fontSize="caption" color="quiet" mb="1">
            {colours.length ? title : `${title}: none yet`}
          </Text>
          <Box display="grid" gridTemplateColumns="repeat(8, 1fr)" gap="3px">
            {colours.map((colour) => (
              <chakra.button
                key={colour}
                type="button"
                aria-label={colour}
                title={colour}
                height="19px"
                borderRadius="5px"
                borderWidth="1px"
                borderColor="edge"
                cursor="pointer"
                style={{ background: `linear-gradient(${colour}, ${colour}), ${CHEQUER}` }}
                onClick={() => set(colour)}
              />
            ))}
          </Box>
        </Box>
      ))}
    </>
  );
}
