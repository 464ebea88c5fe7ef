import { useLayoutEffect, useRef } from "react";
import { useChoices } from "../scene/choices";
import { useScene } from "../scene/document";
import { useLook } from "../scene/look";
import { useSession } from "../scene/session";
import { Marks } from "./marks";
import { Painter } from "./painter";
import { Tools } from "./tools";
import type { Point, View } from "./view";

/** One canvas over the picture: the lines and the motion drawn, and over them what the hands can take. */
export function useMarks(view: View, room: Point, beside: boolean) {
  const session = useSession();
  const { scene } = useScene();
  const look = useLook();
  const selected = useChoices((state) => state.selected);
  const pathKey = useChoices((state) => state.pathKey);
  const playing = useChoices((state) => state.playing);
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
  }, [session, scene, view.scale, view.x, view.y, room, look, selected, pathKey, playing, beside]);

  return canvas;
}
