import { useLayoutEffect, useRef } from "react";
import type { Point, View } from "../geometry/layerGeometry";
import { Painter } from "../paint/painter";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useCascade } from "../state/cascades";
import { useEffects } from "../state/effects";
import { usePlayback } from "../state/playback";
import { useSelection } from "../state/selection";
import { useViewSettings } from "../state/viewSettings";
import { Marks } from "./marks";
import { Tools } from "./tools";

/** One canvas over the picture: the lines and the motion drawn, and over them what the hands can take. */
export function useMarks(view: View, room: Point, beside: boolean) {
  const session = useSession();
  const { scene } = useScene();
  const look = useViewSettings();
  const selected = useSelection((state) => state.selected);
  const pathKey = useSelection((state) => state.pathKey);
  const editing = useSelection((state) => state.editing);
  const finding = useSelection((state) => state.finding);
  const points = useSelection((state) => state.points);
  const gradient = useSelection((state) => state.gradient);
  const drawing = useSelection((state) => state.drawing);
  const cascade = useCascade();
  const effect = useEffects();
  const playing = usePlayback((state) => state.playing);
  const canvas = useRef<HTMLCanvasElement>(null);

  // biome-ignore lint/correctness/useExhaustiveDependencies: they are redrawn for each of these
  useLayoutEffect(() => {
    const on = canvas.current!;
    on.width = Math.round(room[0] * devicePixelRatio);
    on.height = Math.round(room[1] * devicePixelRatio);
    const pen = on.getContext("2d")!;
    const marks = new Marks(session, new Painter(session.pictures, session.frames.outlines), pen);
    const tools = new Tools(session, pen);
    let wanted = 0;
    const draw = () => {
      wanted = 0;
      marks.draw(view, [scene.width, scene.height]);
      tools.draw(view, room, beside);
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
  }, [
    session,
    scene,
    view.scale,
    view.x,
    view.y,
    room,
    look,
    selected,
    pathKey,
    finding,
    editing,
    points,
    gradient,
    drawing,
    cascade,
    effect,
    playing,
    beside,
  ]);

  return canvas;
}
