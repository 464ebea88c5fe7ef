import { useEffect, useLayoutEffect, useRef } from "react";
import { choices, useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { useLook } from "../scene/look";
import { useSession } from "../scene/session";
import { ghostFrames, Marks } from "./marks";
import { Painter } from "./painter";
import type { Point, View } from "./view";

/** Paints the picture, the ghosts of the neighbouring poses and the marks over them, whenever the frame store tells. */
export function usePainting(view: View, room: Point) {
  const session = useSession();
  const { scene } = useScene();
  const look = useLook();
  const selected = useChoices((state) => state.selected);
  const pathKey = useChoices((state) => state.pathKey);
  const playing = useChoices((state) => state.playing);
  const solo = useChoices((state) => state.solo);
  const picture = useRef<HTMLCanvasElement>(null);
  const ghosts = useRef<HTMLCanvasElement>(null);
  const marks = useRef<HTMLCanvasElement>(null);
  const painter = useRef<Painter>(null);
  painter.current ??= new Painter(session.pictures, session.frames.outlines);

  useEffect(() => {
    const canvas = picture.current!;
    const context = canvas.getContext("2d", { willReadFrequently: true })!;
    let wanted = 0;
    let painted = false;
    let version = -1;
    const paint = () => {
      wanted = 0;
      const { frames } = session;
      if (!frames.has(frames.frame)) return;
      version = frames.version;
      const { solo } = choices();
      const order = solo.length ? frames.order.filter((id) => solo.includes(id)) : frames.order;
      const layers = order.map((id) => frames.layer(id)).filter((layer) => layer !== undefined);
      const since = layers.length === frames.order.length && !solo.length ? frames.triedFrom : 0;
      painter.current!.paint(context, scene.background ?? "#00000000", layers, frames.frame, since);
      canvas.dataset.painted = `${frames.frame}`;
      if (frames.trying) canvas.dispatchEvent(new Event("painted"));
      canvas.dataset.ready = session.pictures.waiting ? "" : "yes";
    };
    // What a hand does is painted as soon as its answer is here, so that the next frame of the display shows it; once
    // in a frame is enough.
    const ask = () => {
      if (session.frames.version === version) return;
      if (session.frames.trying && !painted) {
        painted = true;
        requestAnimationFrame(() => {
          painted = false;
        });
        paint();
      } else wanted ||= requestAnimationFrame(paint);
    };
    ask();
    const stop = session.frames.subscribe(ask);
    return () => {
      stop();
      cancelAnimationFrame(wanted);
    };
  }, [session, scene.background]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a canvas that changed its size has lost its picture
  useEffect(() => session.frames.notify(), [session, scene.width, scene.height, solo]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: they are drawn anew for each of these
  useLayoutEffect(() => {
    const canvas = marks.current!;
    canvas.width = Math.round(room[0] * devicePixelRatio);
    canvas.height = Math.round(room[1] * devicePixelRatio);
    const drawn = new Marks(session, painter.current!, canvas.getContext("2d")!);
    let wanted = 0;
    const draw = () => {
      wanted = 0;
      drawn.draw(view, [scene.width, scene.height]);
    };
    const ask = () => {
      wanted ||= requestAnimationFrame(draw);
    };
    draw();
    const stop = session.frames.subscribe(ask);
    return () => {
      stop();
      cancelAnimationFrame(wanted);
    };
  }, [session, scene, view.scale, view.x, view.y, room, look, selected, pathKey, playing]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: an edit of the scene may move the poses beside
  useEffect(() => {
    const context = ghosts.current!.getContext("2d")!;
    const shown = look.ghosts && !playing;
    // Hidden where there is nothing on it, since an empty canvas is laid over the picture at every frame all the same.
    ghosts.current!.style.display = shown ? "block" : "none";
    let last = "";
    const paint = () => {
      const layers = selected.map((id) => session.layer(id)).filter((layer) => layer !== undefined);
      const wanted = shown
        ? layers.flatMap((layer) => ghostFrames(session, layer).map((frame) => [layer.id!, frame]))
        : [];
      const told = wanted.join(";") + (session.frames.trying ? "t" : "");
      if (told === last && !session.frames.trying) return;
      last = told;
      painter.current!.clear(context);
      for (const [id, frame] of wanted as [string, number][]) {
        const arrays = session.frames.layer(id, frame);
        if (arrays) painter.current!.ghost(context, arrays, frame);
        else last = "";
      }
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session, scene, look.ghosts, playing, selected]);

  return { picture, ghosts, marks };
}
