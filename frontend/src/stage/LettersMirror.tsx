import { type CSSProperties, forwardRef, useEffect, useImperativeHandle, useRef } from "react";
import { type Part, stretches, units } from "../document/letters";
import { Box } from "../parts/styled";

interface Props {
  text: string;
  parts: readonly Part[];
  /** How the letters of a part look; undefined for those of none. */
  look: (part: number | undefined) => CSSProperties;
  /** Between paragraphs, in pixels of the text. */
  gap: number;
  style: CSSProperties;
  /** From where its paragraphs are read. */
  dir: "auto" | "ltr" | "rtl";
  /** The letters that are chosen (code units). */
  chosen: [number, number];
  /** The field itself shows what is chosen, and hears presses: this tells only where letters are. */
  passive?: boolean;
  /** Where the chosen letters are in the window. */
  told: (box: DOMRect | null) => void;
  /** Letters were pressed, dragged to, or a word was pressed twice. */
  onChoose: (start: number, stop: number) => void;
}

const MARK = "letters";

/**
 * The letters of a text as they stand in the picture, without ink: what a field of one look cannot show. The caret and
 * what is chosen are drawn here, and a press finds its letter here; the keyboard stays with the field below.
 */
export const LettersMirror = forwardRef<HTMLDivElement, Props>(
  ({ text, parts, look, gap, style, dir, chosen, passive, told, onChoose }, outer) => {
    const ref = useRef<HTMLDivElement>(null);
    useImperativeHandle(outer, () => ref.current!);
    const anchor = useRef(0);
    const [start, stop] = chosen;

    useEffect(() => {
      const [first, last] = [placeOf(ref.current!, start), placeOf(ref.current!, stop)];
      if (!first || !last || start === stop) {
        told(null);
        return;
      }
      const range = document.createRange();
      range.setStart(...first);
      range.setEnd(...last);
      told(range.getBoundingClientRect());
      if (passive) return;
      CSS.highlights.set(MARK, new Highlight(range));
      return () => {
        CSS.highlights.delete(MARK);
      };
    });

    const at = (event: React.MouseEvent) => offsetAt(ref.current!, event.clientX, event.clientY);
    const spans = stretches(text, parts);
    let done = 0;
    return (
      <Box
        ref={ref}
        position="absolute"
        transformOrigin="0 0"
        color="transparent"
        cursor="text"
        userSelect="none"
        pointerEvents={passive ? "none" : undefined}
        data-testid="letters-mirror"
        style={style}
        css={{ "& ::highlight(letters)": { background: "color-mix(in srgb, {colors.act} 45%, transparent)" } }}
        onPointerDown={(event) => {
          event.stopPropagation();
          event.preventDefault();
          const place = at(event);
          if (!event.shiftKey) anchor.current = place;
          onChoose(anchor.current, place);
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={(event) => {
          if (event.buttons & 1) onChoose(anchor.current, at(event));
        }}
        // The press itself would take the keyboard from the field.
        onMouseDown={(event) => event.preventDefault()}
        onDoubleClick={(event) => {
          event.stopPropagation();
          const words = new Intl.Segmenter(undefined, { granularity: "word" }).segment(text);
          const word = words.containing(Math.min(at(event), text.length - 1));
          if (word) onChoose(word.index, word.index + word.segment.length);
        }}
      >
        {text.split("\n").map((paragraph, index) => {
          const begin = done;
          const end = begin + paragraph.length;
          done = end + 1;
          return (
            <div key={index} dir={dir} style={{ marginBottom: gap }}>
              {spans.flatMap((span) => {
                const from = Math.max(units(text, span.start), begin);
                const to = Math.min(units(text, span.stop), end);
                if (from >= to) return [];
                const cut = !passive && start === stop && start >= from && start < to;
                return [
                  <span key={from} style={look(span.part)}>
                    {/* The caret parts the letters that it stands between. */}
                    {cut ? text.slice(from, start) : text.slice(from, to)}
                    {cut && <Caret />}
                    {cut && text.slice(start, to)}
                  </span>,
                ];
              })}
              {!passive && start === stop && start === end && <Caret />}
              {!paragraph && EMPTY}
            </div>
          );
        })}
      </Box>
    );
  },
);

/** What gives a line its height that has no letters. */
const EMPTY = "\u200b";

/** The caret: as high as the letters beside it, without any width. */
const Caret = () => (
  <Box
    as="span"
    data-caret=""
    display="inline-block"
    width="0"
    height="1em"
    verticalAlign="-0.15em"
    outline="0.02em solid"
    outlineColor="anchorInk"
  />
);

/** The text nodes of a mirror, each with how many code units of the text stand before it. */
function nodesOf(mirror: HTMLElement): [Text, number][] {
  const found: [Text, number][] = [];
  let before = 0;
  for (const paragraph of mirror.children) {
    const walk = document.createTreeWalker(paragraph, NodeFilter.SHOW_TEXT);
    for (let node = walk.nextNode() as Text | null; node; node = walk.nextNode() as Text | null) {
      found.push([node, before]);
      before += node.data === EMPTY ? 0 : node.length;
    }
    before += 1;
  }
  return found;
}

/** Where a letter stands among the nodes. */
function placeOf(mirror: HTMLElement, offset: number): [Text, number] | undefined {
  const found = nodesOf(mirror).findLast(([, before]) => before <= offset);
  return found && [found[0], Math.min(offset - found[1], found[0].length)];
}

/** The letter that stands at a point of the window; beside the lines, that at the nearest end. */
function offsetAt(mirror: HTMLElement, x: number, y: number): number {
  const nodes = nodesOf(mirror);
  const range = document.caretRangeFromPoint(x, y);
  const known = range && nodes.find(([node]) => node === range.startContainer);
  const length = (node: Text) => (node.data === EMPTY ? 0 : node.length);
  if (known) return known[1] + Math.min(range.startOffset, length(known[0]));
  const last = nodes.at(-1);
  return !last || y < mirror.getBoundingClientRect().top ? 0 : last[1] + length(last[0]);
}
