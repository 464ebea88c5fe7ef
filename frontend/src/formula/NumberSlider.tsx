import type { EditorView } from "@codemirror/view";
import { useRef } from "react";
import { chakra, Flex, Text } from "../parts/styled";

interface Props {
  editor: EditorView;
  /** Where the number begins. */
  from: number;
  take: () => void;
}

/** A slider for a number of the formula, from its negative to three times itself; it is taken when it is let go. */
export function NumberSlider({ editor, from, take }: Props) {
  // Read from the text itself: slid below 0 it is a number with its sign, which the syntax takes for two things.
  const there = NUMBER.exec(editor.state.sliceDoc(from, from + LONGEST))?.[0];
  const value = there === undefined ? null : Number(there);
  // While the number slides, its range stays.
  const sliding = useRef(false);
  const kept = useRef<Range | null>(null);
  if (!sliding.current || !kept.current) kept.current = value === null ? null : rangeOf(value);
  const range = kept.current;
  if (value === null || !range) return null;
  const slide = (next: number) => {
    editor.dispatch({
      changes: { from, to: from + there!.length, insert: written(next) },
      userEvent: "input.slide",
    });
  };
  const end = () => {
    sliding.current = false;
    take();
  };
  return (
    <Flex align="center" gap="2" mt="1" data-testid="formula-slider">
      <Text fontFamily="mono" fontSize="row" minWidth="44px">
        {written(value)}
      </Text>
      <chakra.input
        type="range"
        aria-label="The number in the formula"
        flex="1"
        min={range.low}
        max={range.high}
        step={range.step}
        value={value}
        accentColor="act"
        onChange={(event) => slide(Number(event.target.value))}
        onPointerDown={() => {
          sliding.current = true;
        }}
        onPointerUp={end}
        onPointerCancel={end}
        onKeyDown={(event) => {
          if (event.key.startsWith("Arrow")) sliding.current = true;
        }}
        onKeyUp={(event) => event.key.startsWith("Arrow") && end()}
      />
    </Flex>
  );
}

const NUMBER = /^-?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/i;
const LONGEST = 40;

const written = (number: number) => String(Math.round(number * 1e6) / 1e6);

type Range = ReturnType<typeof rangeOf>;

function rangeOf(value: number) {
  const [low, high] = value ? [-Math.abs(value), 3 * Math.abs(value)] : [-10, 10];
  const rough = (high - low) / 200;
  const tens = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((n) => n * tens).find((n) => n >= rough) ?? rough;
  return { low: Math.round(low / step) * step, high: Math.round(high / step) * step, step };
}
