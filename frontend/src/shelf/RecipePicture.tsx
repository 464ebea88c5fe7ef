import { useEffect, useRef, useState } from "react";
import type { ResolvedMessage } from "../api/arrays";
import { commonBox } from "../geometry/layerGeometry";
import { fps } from "../geometry/times";
import { Painter } from "../paint/painter";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";

const WIDE = 133;
const TALL = 78;

/** One clock for all of the small pictures: it calls them for each display frame while any is shown. */
export class Clock {
  private readonly hands = new Set<(seconds: number) => void>();
  private wanted = 0;
  private begun = 0;

  add(hand: (seconds: number) => void): () => void {
    this.hands.add(hand);
    if (this.hands.size === 1) {
      this.begun = performance.now();
      this.wanted = requestAnimationFrame(this.tick);
    }
    return () => {
      this.hands.delete(hand);
      if (!this.hands.size) cancelAnimationFrame(this.wanted);
    };
  }

  private readonly tick = (now: number) => {
    for (const hand of this.hands) hand(Math.max(now - this.begun, 0) / 1000);
    this.wanted = requestAnimationFrame(this.tick);
  };
}

export const useClock = () => useState(() => new Clock())[0];

interface Props {
  layer: string;
  message: ResolvedMessage | undefined;
  clock: Clock;
}

/** What a recipe makes of a layer, over and over, at the scene's own rate. */
export function RecipePicture({ layer, message, clock }: Props) {
  const session = useSession();
  const { scene } = useScene();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const arrays = message?.layers[layer];
    if (!message || !arrays) return;
    const context = canvas.current!.getContext("2d")!;
    const painter = new Painter(session.pictures, session.frames.outlines);
    const ratio = devicePixelRatio;
    const [left, top, right, bottom] = shownPart(commonBox([arrays], message.to - 1), scene.width, scene.height);
    const k = Math.min(WIDE / (right - left), TALL / (bottom - top)) * ratio;
    const x = (WIDE * ratio - (right - left) * k) / 2 - left * k;
    const y = (TALL * ratio - (bottom - top) * k) / 2 - top * k;
    let last = -1;
    return clock.add((seconds) => {
      const frame = message.from + (Math.floor(seconds * fps(scene)) % (message.to - message.from));
      if (frame === last) return;
      last = frame;
      painter.clear(context);
      // Of a filter also what lies below it.
      for (const [id, one] of Object.entries(message.layers))
        if (!id.includes("/")) painter.ghost(context, one, frame, [k, 0, 0, k, x, y]);
      canvas.current!.dataset.frame = `${frame}`;
    });
  }, [session, message, layer, clock, scene]);
  return (
    <canvas
      ref={canvas}
      width={WIDE * devicePixelRatio}
      height={TALL * devicePixelRatio}
      aria-hidden
      style={{
        width: WIDE,
        height: TALL,
        display: "block",
        borderRadius: 9,
        background: "var(--chakra-colors-surround)",
      }}
    />
  );
}

/** Where the layer lands and the room around it, at least a third of the scene and at most all of it. */
function shownPart(
  [left, top, right, bottom]: [number, number, number, number],
  width: number,
  height: number,
): [number, number, number, number] {
  const share = Math.min(Math.max(((right - left) * 2.2) / width, ((bottom - top) * 2.2) / height, 1 / 3), 1);
  const [w, h] = [width * share, height * share];
  const along = (middle: number, size: number, whole: number) => Math.min(Math.max(middle - size / 2, 0), whole - size);
  const [x, y] = [along((left + right) / 2, w, width), along((top + bottom) / 2, h, height)];
  return [x, y, x + w, y + h];
}
