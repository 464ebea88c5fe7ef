import { Copy, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import { row } from "../api/arrays";
import type { Layer } from "../api/client";
import { isItem } from "../document/items";
import { TimeField } from "../fields/TimeField";
import { commonBox } from "../geometry/layerGeometry";
import { timecode } from "../geometry/times";
import { deleteKeys, sameKey } from "../keys/keys";
import { Painter } from "../paint/painter";
import { IconButton } from "../parts/IconButton";
import { Box, chakra, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useSelection } from "../state/selection";
import type { Pose } from "./poses";

/** The size of a card's picture in pixels. */
export interface CardSize {
  wide: number;
  tall: number;
}

/** What a card has around its picture, in pixels. */
export const AROUND = { wide: 11, tall: 72 };

interface Props {
  pose: Pose;
  /** Which of the cards it is, from 1 on. */
  number: number;
  layers: Layer[];
  size: CardSize;
  by: number;
  pick: (event: React.MouseEvent) => void;
  start: (event: React.PointerEvent) => void;
  /** Move the pose in time: later ones follow with ripple, and all that is selected where it is one of several. */
  move: (by: number) => void;
  duplicate: () => void;
}

/** A moment of the selected layers: what they look like, when, and what changes. */
export function PoseCard({ pose, number, layers, size, by, pick, start, move, duplicate }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const selected = useSelection((state) => pose.keys.every((key) => state.keys.some((one) => sameKey(one, key))));
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const paint = () => {
      const here = session.frames.frame === Math.round(pose.frame) ? "yes" : "";
      if (card.current!.dataset.here !== here) card.current!.dataset.here = here;
    };
    paint();
    return session.frames.subscribeCalmly(paint);
  }, [session, pose.frame]);
  const beyond = pose.frame < 0 || pose.frame >= scene.length;
  const words = beyond ? `beyond the scene · ${pose.words}` : pose.words;
  const label = `Pose at ${timecode(pose.frame, scene)}: ${words}`;
  return (
    <Box
      ref={card}
      data-testid="pose-card"
      data-frame={pose.frame}
      width={`${size.wide + AROUND.wide}px`}
      flex="none"
      bg="well"
      borderWidth="1.5px"
      borderColor={selected ? "act" : beyond ? "findingInk" : "edge"}
      borderStyle={beyond ? "dashed" : undefined}
      borderRadius="11px"
      p="1"
      css={{
        "&[data-here=yes]": { boxShadow: "0 0 0 2px {colors.act}" },
        // Tools are there for the pointer and for the keyboard.
        "& [data-tools]": { opacity: 0 },
        "&:hover [data-tools], &:focus-within [data-tools]": { opacity: 1 },
      }}
      transform={by ? `translateX(${by * 4}px)` : undefined}
      zIndex={by ? 1 : undefined}
    >
      <chakra.button
        type="button"
        aria-label={label}
        aria-pressed={selected}
        title={`${label}. Drag it in time`}
        display="block"
        width="100%"
        cursor="grab"
        textAlign="left"
        borderRadius="8px"
        css={{ touchAction: "none" }}
        _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
        onPointerDown={start}
        onClick={pick}
        onKeyDown={(event) => {
          const step = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
          if (event.key === "Delete" || event.key === "Backspace") deleteKeys(session, pose.keys);
          else if (step) move(step * (event.shiftKey ? 10 : 1));
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        <Thumbnail layers={layers} frame={Math.round(pose.frame)} size={size} />
      </chakra.button>
      <Flex align="center" gap="1" mt="0.5">
        {by ? (
          <Text fontWeight={700} fontSize="row" color="act">
            {timecode(pose.frame + by, scene)} ({by > 0 ? "+" : ""}
            {by})
          </Text>
        ) : (
          <TimeField
            label={`Time of the pose at ${timecode(pose.frame, scene)}`}
            frame={pose.frame}
            width="52px"
            keep={(to) => move(to - pose.frame)}
          />
        )}
        <Box flex="1" />
        {number < 10 && (
          <Text data-number fontSize="caption" color="quiet" title={`Alt ${number} goes there`} aria-hidden>
            {number}
          </Text>
        )}
        <Flex data-tools gap="1">
          <IconButton label={`Copy the pose at ${timecode(pose.frame, scene)} to the playhead`} onClick={duplicate}>
            <Copy size={11} />
          </IconButton>
          <IconButton
            label={`Delete the pose at ${timecode(pose.frame, scene)}`}
            onClick={() => deleteKeys(session, pose.keys)}
          >
            <Trash2 size={11} />
          </IconButton>
        </Flex>
      </Flex>
      <Text
        fontSize="caption"
        lineHeight="13px"
        height="26px"
        mt="0.5"
        color={beyond ? "findingInk" : "quiet"}
        lineClamp={2}
        title={words}
      >
        {words}
      </Text>
    </Box>
  );
}

/** The layers alone at a frame, over the scene's ground, on the part of the scene that they move in. */
function Thumbnail({ layers, frame, size }: { layers: Layer[]; frame: number; size: CardSize }) {
  const { wide, tall } = size;
  const session = useSession();
  const { scene } = useScene();
  const canvas = useRef<HTMLCanvasElement>(null);
  const ids = layers.map((layer) => layer.id!).join();
  useEffect(() => {
    const ratio = devicePixelRatio;
    const context = canvas.current!.getContext("2d")!;
    const painter = new Painter(session.pictures, session.frames.outlines);
    let last: unknown[] = [];
    let timer = 0;
    let shows = true;
    const seen = new IntersectionObserver(([entry]) => {
      shows = entry.isIntersecting;
      if (shows) ask();
    });
    seen.observe(canvas.current!);
    // While a hand moves the stage comes first; the cards follow as soon as it rests. Those out of sight wait.
    const ask = () => {
      window.clearTimeout(timer);
      if (!shows) return;
      if (!session.frames.trying) paint();
      else timer = window.setTimeout(paint, 200);
    };
    const paint = () => {
      const chosen = ids.split(",");
      // Shapes within a layer are seen in it: any of them paints all of it.
      const inside = isItem(chosen[0]);
      const order = inside ? chosen : session.frames.order.filter((id) => chosen.includes(id));
      const arrays = order.map((id) => session.frames.layer(id, frame));
      if (arrays.some((one) => !one)) session.frames.look(frame);
      const there = arrays.filter((one) => one !== undefined);
      if (there.length === last.length && there.every((one, i) => one === last[i]) && !session.pictures.waiting) return;
      last = there;
      painter.clear(context);
      if (!there.length) return;
      const [left, top, right, bottom] = home(there, scene.width, scene.height);
      const k = Math.min(wide / (right - left), tall / (bottom - top)) * ratio;
      const x = (wide * ratio - (right - left) * k) / 2 - left * k;
      const y = (tall * ratio - (bottom - top) * k) / 2 - top * k;
      if (scene.background) {
        context.fillStyle = scene.background;
        context.fillRect(x, y, scene.width * k, scene.height * k);
      }
      for (const one of inside ? there.slice(0, 1) : there) painter.ghost(context, one, frame, [k, 0, 0, k, x, y]);
    };
    paint();
    const stop = session.frames.subscribeCalmly(ask);
    return () => {
      window.clearTimeout(timer);
      seen.disconnect();
      stop();
    };
  }, [session, ids, frame, scene.width, scene.height, scene.background, wide, tall]);
  return (
    <canvas
      ref={canvas}
      width={wide * devicePixelRatio}
      height={tall * devicePixelRatio}
      data-testid="thumbnail"
      style={{
        width: "100%",
        height: tall,
        display: "block",
        borderRadius: 7,
        background: "var(--chakra-colors-surround)",
      }}
      aria-hidden
    />
  );
}

/** The part of the scene that is shown: all of the layers' boxes over their spans, as far as it is within a frame's reach. */
function home(layers: Parameters<typeof commonBox>[0], width: number, height: number) {
  const boxes = layers.flatMap((layer) => {
    const steps = Math.max(Math.floor((layer.to - layer.from) / 12), 1);
    const found = [];
    for (let frame = layer.from; frame < layer.to; frame += steps)
      if (row(layer, layer.visible, frame)[0]) found.push(commonBox([layer], frame));
    return found;
  });
  if (!boxes.length) return [0, 0, width, height];
  const edge = 0.02 * width;
  const low = (i: 0 | 1, most: number) => Math.max(Math.min(...boxes.map((box) => box[i])) - edge, -most * 0.2);
  const high = (i: 2 | 3, most: number) => Math.min(Math.max(...boxes.map((box) => box[i])) + edge, most * 1.2);
  const [left, top, right, bottom] = [low(0, width), low(1, height), high(2, width), high(3, height)];
  return right > left && bottom > top ? [left, top, right, bottom] : [0, 0, width, height];
}
