import { useEffect, useLayoutEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { hasWords } from "../document/contents";
import type { View } from "../geometry/layerGeometry";
import { useDraft } from "../parts/draft";
import { chakra } from "../parts/styled";
import { facesOf } from "../session/fontFaces";
import { useSession } from "../session/session";
import { useFacts, useScene } from "../session/useScene";
import { selection, setSelection, useSelection } from "../state/selection";

type TextContent = Extract<Layer["content"], { kind?: "text" }>;

/** The text that is edited where it stands. */
export function TextInPlace({ view }: { view: View }) {
  const { scene } = useScene();
  const editing = useSelection((state) => state.editing);
  const layer = scene.layers?.find((layer) => layer.id === editing);
  if (!layer || !hasWords(layer.content)) return null;
  return <Words key={layer.id} layer={layer} content={layer.content} view={view} />;
}

/**
 * A field without a look of its own, over the painted text: the same font, size and place, so that the caret stands where
 * the picture has the letter, and the picture is the core's own while it is typed.
 */
function Words({ layer, content, view }: { layer: Layer; content: TextContent; view: View }) {
  const session = useSession();
  const facts = useFacts();
  const done = () => selection().editing === layer.id && setSelection({ editing: null });
  const { ref, props } = useDraft<HTMLTextAreaElement>({
    shown: () => content.text,
    take: (text) => session.edit({ edit: "set_content", layer: layer.id!, path: "text", value: text as never }),
    tried: (text) => {
      if (text.trim()) session.try([{ edit: "set_content", layer: layer.id!, path: "text", value: text as never }]);
    },
    dropped: () => session.cancel(),
    lines: true,
  });
  const opening = useRef(true);
  const latest = useRef(view);
  latest.current = view;

  useLayoutEffect(() => {
    const place = () => {
      const arrays = session.frames.layer(layer.id!);
      const field = ref.current;
      if (!arrays || !field) return;
      const at = (column: number) => row(arrays, column, session.frames.frame);
      const { scale, x, y } = latest.current;
      const [a, b, c, d, e, f] = at(arrays.matrix);
      const [left, top, width] = at(arrays.box);
      const size = at(arrays.values["content.size"])[0];
      const gap = (at(arrays.values["content.tracking"])[0] / 1000) * size;
      const line = (at(arrays.values["content.line_height"])[0] / 100) * size;
      // Room for the letters that are typed before their answer is here, on the side to which the lines grow.
      const room = 6 * size;
      const share = { left: 0, centre: 0.5, right: 1 }[content.align ?? "left"];
      Object.assign(field.style, {
        transform: `matrix(${[a, b, c, d, e, f].map((n) => n * scale).join()}) translate(${left - room * share + gap * share}px, ${top}px)`,
        left: `${x}px`,
        top: `${y}px`,
        width: `${width + room}px`,
        height: `${line * field.value.split("\n").length}px`,
        fontSize: `${size}px`,
        lineHeight: `${line}px`,
        letterSpacing: `${gap}px`,
      });
    };
    place();
    return session.frames.subscribe(place);
  });

  useEffect(() => {
    ref.current?.focus({ preventScroll: true });
    ref.current?.select();
  }, [ref]);

  const { font } = content;
  return (
    <chakra.textarea
      {...props}
      aria-label={`Text of ${layer.name}`}
      data-testid="text-in-place"
      spellCheck={false}
      wrap="off"
      onPointerDown={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        // Enter that is still held from opening it would replace the text by lines.
        if (event.key === "Enter" && event.repeat && opening.current) event.preventDefault();
        else props.onKeyDown(event);
        event.stopPropagation();
        if (event.key === "Escape") done();
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
      caretColor="anchorInk"
      css={{
        "&::selection": { background: "color-mix(in srgb, {colors.act} 45%, transparent)", color: "transparent" },
      }}
      style={{
        fontFamily: facesOf(font?.family ?? "Figtree", facts),
        fontWeight: font?.weight ?? 600,
        fontStyle: font?.italic ? "italic" : "normal",
        fontFeatureSettings: "normal",
        whiteSpace: "pre",
        unicodeBidi: "plaintext",
        textAlign: ({ left: "left", centre: "center", right: "right" } as const)[content.align ?? "left"],
      }}
    />
  );
}
