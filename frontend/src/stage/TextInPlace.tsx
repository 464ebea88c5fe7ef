import { type CSSProperties, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { hasWords } from "../document/contents";
import { points, shifted } from "../document/letters";
import type { View } from "../geometry/layerGeometry";
import { useDraft } from "../parts/draft";
import { chakra } from "../parts/styled";
import { useFontFacts } from "../session/projectFonts";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { selection, setSelection, useSelection } from "../state/selection";
import { CLOSER, LettersBar } from "./LettersBar";
import { LettersMirror } from "./LettersMirror";
import { letterStyle } from "./letterStyle";

type TextContent = Extract<Layer["content"], { kind?: "text" }>;

/** The text that is edited where it stands. */
export function TextInPlace({ view }: { view: View }) {
  const { scene } = useScene();
  const editing = useSelection((state) => state.editing);
  const layer = scene.layers?.find((layer) => layer.id === editing);
  if (!layer || !hasWords(layer.content)) return null;
  return <Words key={layer.id} layer={layer} content={layer.content} view={view} />;
}

const SHARES = { left: 0, centre: 0.5, right: 1, justify: 0 };
const ALIGNED = { left: "left", centre: "center", right: "right", justify: "justify" } as const;
const DIRECTIONS = { auto: "auto", "left to right": "ltr", "right to left": "rtl" } as const;
/** Halvings after which the size that fits a block is known. */
const STEPS = 14;

/**
 * A field without a look of its own, over the painted text: the same font, size and place, so that the caret stands where
 * the picture has the letter, and the picture is the core's own while it is typed. Where letters differ from one another a
 * mirror shows the caret, and the field below has the keyboard alone.
 */
function Words({ layer, content, view }: { layer: Layer; content: TextContent; view: View }) {
  const session = useSession();
  const facts = useFontFacts();
  const { parts = [], block } = content;
  const down = Boolean(content.vertical && !content.path);
  /** A value of the text, or of one of its parts, at the playhead. */
  const number = useCallback(
    (path: string) => {
      const arrays = session.frames.layer(layer.id!);
      const column = arrays?.values[`content.${path}`];
      return arrays && column !== undefined ? row(arrays, column, session.frames.frame)[0] : undefined;
    },
    [session, layer.id],
  );
  // An indent of several paragraphs is nothing that a field can show, nor a gap between them.
  const mixed = parts.length > 0 || Boolean(block && (number("block.gap") || number("block.indent")));
  const [typed, setTyped] = useState(content.text);
  const [chosen, setChosen] = useState<[number, number]>([0, content.text.length]);
  const [bar, setBar] = useState<{ left: number; top: number } | null>(null);
  const done = () => selection().editing === layer.id && setSelection({ editing: null });
  const { ref, props, take, typing } = useDraft<HTMLTextAreaElement>({
    shown: () => content.text,
    take: (text) => session.edit({ edit: "set_content", layer: layer.id!, path: "text", value: text as never }),
    tried: (text) => {
      if (text.trim()) session.try([{ edit: "set_content", layer: layer.id!, path: "text", value: text as never }]);
    },
    dropped: () => session.cancel(),
    lines: true,
  });
  const mirror = useRef<HTMLDivElement>(null);
  const placed = useRef(() => {});
  const opening = useRef(true);
  const latest = useRef(view);
  latest.current = view;

  const axesAt = (start: string, axes: TextContent["axes"]) =>
    (axes ?? []).map(({ tag }, index): [string, number] => [tag, number(`${start}axes.${index}.value`) ?? 0]);
  const whole = letterStyle(
    { font: content.font, features: content.features, case: content.case, axes: axesAt("", content.axes) },
    facts,
  );
  const lookOf = (index: number | undefined): CSSProperties => {
    const part = index === undefined ? undefined : parts[index];
    if (!part) return {};
    const own = part.axes ? axesAt(`parts.${index}.`, part.axes) : axesAt("", content.axes);
    const tracking = part.tracking ? number(`parts.${index}.tracking`) : undefined;
    return {
      ...letterStyle(
        {
          font: part.font ?? content.font,
          features: part.features ?? content.features,
          case: part.case ?? content.case,
          axes: own,
        },
        facts,
      ),
      fontSize: part.size ? `${number(`parts.${index}.size`)}%` : undefined,
      letterSpacing: tracking === undefined ? undefined : `${tracking / 1000}em`,
      verticalAlign: part.raised ? `${number(`parts.${index}.raised`)}px` : undefined,
    };
  };

  useLayoutEffect(() => {
    const place = () => {
      const arrays = session.frames.layer(layer.id!);
      const field = ref.current;
      if (!arrays || !field) return;
      const at = (column: number) => row(arrays, column, session.frames.frame);
      const { scale, x, y } = latest.current;
      const [a, b, c, d, e, f] = at(arrays.matrix);
      const size = number("size")!;
      const tracking = number("tracking")!;
      const leading = content.leading ? number("leading")! / size : number("line_height")! / 100;
      const wide = block ? number("block.width")! : 0;
      const high = block?.height ? number("block.height")! : 0;
      // Room for the letters that are typed before their answer is here, on the side to which the lines grow.
      const [left, top, width] = at(arrays.box);
      const room = block ? 0 : 6 * size;
      const share = SHARES[content.align ?? "left"];
      const gap = (tracking / 1000) * size;
      const free = content.measure === "lines" || !content.measure;
      const start = block ? -wide * share : free ? left : -width * share;
      for (const one of [field, mirror.current]) {
        if (!one) continue;
        if (down) {
          // Lines grow to the left, and down.
          const [, , , height] = at(arrays.box);
          const more = block?.height ? 0 : room || 6 * size;
          Object.assign(one.style, {
            left: `${x}px`,
            top: `${y}px`,
            width: `${width + more}px`,
            height: `${height + more}px`,
            fontSize: `${size}px`,
            lineHeight: `${leading * size}px`,
            letterSpacing: `${gap}px`,
            transform: `matrix(${[a, b, c, d, e, f].map((n) => n * scale).join()}) translate(${left - more}px, ${top - more * share}px)`,
          });
          continue;
        }
        const set = (size: number) =>
          Object.assign(one.style, {
            fontSize: `${size}px`,
            lineHeight: one === field || content.leading ? `${leading * size}px` : String(leading),
            letterSpacing: `${(tracking / 1000) * size}px`,
          });
        Object.assign(one.style, {
          left: `${x}px`,
          top: `${y}px`,
          width: `${block ? wide : width + room}px`,
          textIndent: block ? `${number("block.indent")}px` : "0",
          height: "auto",
        });
        set(size);
        const least = block?.least ? number("block.least") : undefined;
        const fits = () => one.scrollWidth <= wide + 1 && (!block?.height || one.scrollHeight <= high + 1);
        const measured = one === field ? grown(field) : undefined;
        if (least !== undefined && !fits()) {
          let [low, most] = [least, size];
          for (let step = 0; step < STEPS; step++) {
            const middle = (low + most) / 2;
            set(middle);
            if (one === field) grown(field);
            if (fits()) low = middle;
            else most = middle;
          }
          set(low);
        }
        const tall = one === field ? grown(field) : one.scrollHeight;
        const stands = { top: 0, middle: 0.5, bottom: 1 }[block?.stands ?? "top"];
        const lower = block?.height ? (high - tall) * stands : 0;
        const lines = field.value.split("\n").length;
        if (!block && one === field) one.style.height = `${leading * size * lines}px`;
        else if (measured !== undefined) one.style.height = `${tall}px`;
        const from = free && !block ? top : 0;
        one.style.transform = `matrix(${[a, b, c, d, e, f].map((n) => n * scale).join()}) translate(${start - room * share + (block ? 0 : gap * share)}px, ${from + lower}px)`;
      }
    };
    place();
    placed.current = place;
    return session.frames.subscribe(place);
  });

  /** Bring the letter before the caret and the one behind it closer, or further apart; or the chosen letters. */
  const kern = (by: number) => {
    const field = ref.current!;
    const [from, to] = [points(field.value, field.selectionStart), points(field.value, field.selectionEnd)];
    if (to === 0) return;
    const [start, stop] = from < to ? [from, to] : [to - 1, to];
    take(true);
    const at = shown.findIndex((part) => part.start <= start && start < part.stop && part.tracking);
    const now = at < 0 ? number("tracking") : number(`parts.${at}.tracking`);
    const rest = Math.min(Math.max((now ?? 0) + by, -1_000), 10_000);
    void session.edit({ edit: "set_letters", layer: layer.id!, start, stop, to: { tracking: { rest } } });
  };

  /** The bar stands above the letters that are chosen. */
  const told = (box: DOMRect | null) => {
    const stage = ref.current?.offsetParent?.getBoundingClientRect();
    const some = box && stage && selection().letters?.layer === layer.id;
    const next = some ? { left: Math.round(box.left - stage.left), top: Math.round(box.top - stage.top) } : null;
    setBar((now) => (now?.left === next?.left && now?.top === next?.top ? now : next));
  };

  /** Hear which letters are chosen: by the keyboard, by the pointer, or by typing. */
  const hear = useCallback(() => {
    const field = ref.current;
    if (!field || document.activeElement !== field) return;
    const next: [number, number] = [field.selectionStart, field.selectionEnd];
    setChosen((now) => (now[0] === next[0] && now[1] === next[1] ? now : next));
    setTyped(field.value);
    // While a whole text is chosen, as it is when it is opened, all of it is meant.
    const some = next[0] < next[1] && next[1] - next[0] < field.value.length;
    const now = selection().letters;
    const [start, stop] = next.map((at) => points(field.value, at));
    if (!some && !now) return;
    if (some && now && now.layer === layer.id && now.start === start && now.stop === stop) return;
    setSelection({ letters: some ? { layer: layer.id!, start, stop } : null });
  }, [ref, layer.id]);

  useEffect(() => {
    document.addEventListener("selectionchange", hear);
    ref.current?.focus({ preventScroll: true });
    ref.current?.select();
    hear();
    // Only now its words stand in the field.
    placed.current();
    return () => document.removeEventListener("selectionchange", hear);
  }, [ref, hear]);

  const shown = typed === content.text ? parts : shifted(parts, content.text, typed);
  const common: CSSProperties = {
    ...whole,
    whiteSpace: block && (!down || block.height) ? "pre-wrap" : "pre",
    writingMode: down ? "vertical-rl" : undefined,
    textAlign: ALIGNED[content.align ?? "left"],
  };
  return (
    <>
      <chakra.textarea
        {...props}
        aria-label={`Text of ${layer.name}`}
        data-testid="text-in-place"
        spellCheck={false}
        wrap={block ? "soft" : "off"}
        onInput={() => {
          props.onInput();
          hear();
        }}
        onPointerDown={(event) => event.stopPropagation()}
        onKeyDown={(event) => {
          // Enter that is still held from opening it would replace the text by lines.
          if (event.key === "Enter" && event.repeat && opening.current) event.preventDefault();
          else props.onKeyDown(event);
          const closer = { Comma: -CLOSER, Period: CLOSER }[event.code];
          if (closer && event.altKey && event.shiftKey) {
            event.preventDefault();
            kern(closer);
          }
          // What was set of letters is undone here, too; what was typed, by the field itself.
          const undoes = (event.ctrlKey || event.metaKey) && /^[zy]$/i.test(event.key) && !typing();
          if (undoes) event.preventDefault();
          else event.stopPropagation();
          if (event.key !== "Escape") return;
          setSelection({ letters: null });
          done();
        }}
        onKeyUp={() => {
          opening.current = false;
        }}
        onBlur={() => {
          props.onBlur();
          done();
        }}
        position="absolute"
        transformOrigin="0 0"
        margin="0"
        padding="0"
        border="0"
        outline="none"
        resize="none"
        overflow="hidden"
        bg="transparent"
        color="transparent"
        caretColor={mixed ? "transparent" : "anchorInk"}
        pointerEvents={mixed ? "none" : undefined}
        css={{
          "&::selection": {
            background: mixed ? "transparent" : "color-mix(in srgb, {colors.act} 45%, transparent)",
            color: "transparent",
          },
        }}
        dir={DIRECTIONS[content.direction ?? "auto"]}
        style={{ ...common, unicodeBidi: content.direction && content.direction !== "auto" ? "normal" : "plaintext" }}
      />
      <LettersMirror
        ref={mirror}
        text={typed}
        parts={shown}
        look={(index) => lookOf(index === undefined ? undefined : parts.findIndex((one) => same(one, shown[index])))}
        gap={block ? (number("block.gap") ?? 0) : 0}
        style={common}
        dir={DIRECTIONS[content.direction ?? "auto"]}
        chosen={chosen}
        passive={!mixed}
        told={told}
        onChoose={(from, to) => {
          const field = ref.current;
          field?.focus({ preventScroll: true });
          field?.setSelectionRange(Math.min(from, to), Math.max(from, to), from > to ? "backward" : "forward");
        }}
      />
      {bar && <LettersBar layer={layer} at={bar} first={() => take(true)} />}
    </>
  );
}

type Part = NonNullable<TextContent["parts"]>[number];

/** Whether a part is another, moved. */
const same = (one: Part, other: Part) =>
  JSON.stringify({ ...one, start: 0, stop: 0 }) === JSON.stringify({ ...other, start: 0, stop: 0 });

/** Make a field as high as what is in it; that height. */
function grown(field: HTMLTextAreaElement): number {
  field.style.height = "0px";
  const tall = field.scrollHeight;
  field.style.height = `${tall}px`;
  return tall;
}
