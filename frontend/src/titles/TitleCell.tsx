import { useDraft } from "../parts/draft";
import { chakra } from "../parts/styled";

interface Props {
  label: string;
  text: string | null;
  /** What the scene itself has, where nothing is typed. */
  sample: string;
  row: number;
  column: number;
  colour: boolean;
  /** Whether words go there, which may be none. */
  words: boolean;
  take: (text: string | null) => Promise<boolean>;
  paste: (text: string) => void;
}

const cellAt = (row: number, column: number) =>
  document.querySelector<HTMLTextAreaElement>(`[data-cell="${row} ${column}"]`);

/** Give the keyboard to a cell; one that is not there is scrolled to first by whoever knows how. */
function goTo(row: number, column: number) {
  const cell = cellAt(row, column);
  cell?.focus();
  cell?.select();
}

/** A cell: Enter takes it and goes down, Shift and Enter begins a line, the arrows walk where no line is left to walk to. */
export function TitleCell({ label, text, sample, row, column, colour, words, take, paste }: Props) {
  const { props } = useDraft<HTMLTextAreaElement>({
    shown: () => text ?? "",
    take: (typed) => take(typed),
  });
  const hex = colour && /^#?[0-9a-f]{3,8}$/i.test(text ?? "") ? `#${text!.replace("#", "")}` : undefined;
  return (
    <chakra.textarea
      {...props}
      aria-label={label}
      placeholder={text === null || !words ? sample : "empty"}
      defaultValue={text ?? ""}
      data-cell={`${row} ${column}`}
      data-leaves="typing"
      rows={1}
      maxLength={5_000}
      spellCheck={false}
      autoComplete="off"
      width="100%"
      height="100%"
      px="2"
      py="7px"
      bg="transparent"
      resize="none"
      lineHeight="17px"
      borderLeftWidth={hex ? "14px" : undefined}
      borderColor={hex}
      _placeholder={{ color: "quiet", opacity: 0.8 }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act", outlineOffset: "-2px", bg: "well" }}
      onPaste={(event) => {
        const given = event.clipboardData.getData("text/plain");
        if (!/[\t\n]/.test(given.trimEnd())) return;
        event.preventDefault();
        paste(given);
      }}
      onKeyDown={(event) => {
        const field = event.currentTarget;
        // Undo and redo are for the table where nothing is being typed.
        const free = field.dataset.typing !== "yes" && (event.ctrlKey || event.metaKey);
        if (free && /^[zy]$/i.test(event.key)) return;
        event.stopPropagation();
        const { selectionStart: at, selectionEnd: end, value } = field;
        const first = !value.slice(0, at).includes("\n");
        const last = !value.slice(end).includes("\n");
        if (event.key === "Enter" && event.shiftKey) return;
        if (event.key === "ArrowUp" && first && row > 0) {
          event.preventDefault();
          goTo(row - 1, column);
        } else if (event.key === "ArrowDown" && last) {
          event.preventDefault();
          goTo(row + 1, column);
        } else {
          props.onKeyDown(event);
          if (event.key === "Enter" && !event.nativeEvent.isComposing) goTo(row + 1, column);
        }
      }}
    />
  );
}
