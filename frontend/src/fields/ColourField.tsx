import { Pipette } from "lucide-react";
import { useEffect, useRef } from "react";
import { IconButton } from "../parts/IconButton";
import { chakra, Flex } from "../parts/styled";
import { useSession } from "../session/session";
import { setLooking } from "../state/looking";
import { NumberField } from "./NumberField";
import { remember, Swatches } from "./Swatches";

const two = (n: number) => Math.round(n).toString(16).padStart(2, "0");
const rgb = (rgba: number[]) => `#${rgba.slice(0, 3).map(two).join("")}`;

interface Props {
  label: string;
  numbers: () => number[] | null;
  /** Tries or keeps a colour; `named` is the id of the project's colour that it follows from then on. */
  set: (value: string, keep: boolean, named?: string) => unknown;
  disabled?: boolean;
  /** What else its chevron offers. */
  more?: React.ReactNode;
}

/** A colour with its alpha, the recent ones, and those of the scene. */
export function ColourField({ label, numbers, set, disabled, more }: Props) {
  const session = useSession();
  const swatch = useRef<HTMLInputElement>(null);
  const take = (colour: string, named?: string) => {
    remember(colour);
    set(colour, true, named);
  };
  const picking = useRef<(colour: string) => void>(take);
  picking.current = take;

  useEffect(() => {
    const field = swatch.current!;
    const paint = () => {
      const now = numbers();
      if (now && document.activeElement !== field && field.value !== rgb(now)) field.value = rgb(now);
    };
    paint();
    const kept = () => take(`${field.value}${two(numbers()?.[3] ?? 255)}`);
    field.addEventListener("change", kept);
    const stop = session.frames.subscribeCalmly(paint);
    return () => {
      field.removeEventListener("change", kept);
      stop();
    };
  });

  const alpha = (value: number) => `${rgb(numbers() ?? [0, 0, 0])}${two(Math.min(Math.max(value, 0), 100) * 2.55)}`;
  return (
    <>
      <chakra.input
        ref={swatch}
        type="color"
        aria-label={label}
        disabled={disabled}
        flex="none"
        width="57px"
        height="control"
        padding="2px"
        borderWidth="1px"
        borderColor="field"
        borderRadius="control"
        bg="well"
        cursor="pointer"
        onInput={(event) => set(`${event.currentTarget.value}${two(numbers()?.[3] ?? 255)}`, false)}
      />
      <NumberField
        label={`${label} alpha`}
        unit="%"
        width="57px"
        disabled={disabled}
        read={() => {
          const now = numbers();
          return now ? Math.round(now[3] / 2.55) : null;
        }}
        attempt={(value) => set(alpha(value), false)}
        keep={(value) => set(alpha(value), true)}
      />
      <Flex align="center" flex="none">
        <IconButton
          label={`Pick ${label.toLowerCase()} from the stage`}
          disabled={disabled}
          onClick={() => {
            setLooking({ pick: (colour) => picking.current(colour), measure: null });
            document.querySelector<HTMLElement>("[data-testid=stage]")?.focus();
          }}
        >
          <Pipette size={12} />
        </IconButton>
        <Swatches
          label={label}
          disabled={disabled}
          value={() => {
            const now = numbers() ?? [0, 0, 0, 255];
            return `${rgb(now)}${two(now[3])}`;
          }}
          set={take}
          more={more}
        />
      </Flex>
    </>
  );
}
