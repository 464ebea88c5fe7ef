import { useEffect, useRef } from "react";
import type { View } from "../geometry/layerGeometry";
import { Painter } from "../paint/painter";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { usePlayback } from "../state/playback";
import { useSelection } from "../state/selection";
import { useViewSettings } from "../state/viewSettings";
import { ghostFrames } from "./marks";

/** The neighbouring poses of what is selected, painted at the size at which they are seen. */
export function useGhosts(view: View) {
  const session = useSession();
  const { scene } = useScene();
  const shown = useViewSettings((state) => state.ghosts);
  const selected = useSelection((state) => state.selected);
  const playing = usePlayback((state) => state.playing);
  const canvas = useRef<HTMLCanvasElement>(null);
  const scale = Math.min(view.scale * devicePixelRatio, 1);

  useEffect(() => {
    const on = canvas.current!;
    // Hidden where there is nothing on it, since an empty canvas is laid over the picture at every frame all the same.
    on.style.display = shown && !playing ? "block" : "none";
    if (!shown || playing) return;
    on.width = Math.round(scene.width * scale);
    on.height = Math.round(scene.height * scale);
    const context = on.getContext("2d")!;
    const painter = new Painter(session.pictures, session.frames.outlines, scale);
    let last = "";
    const paint = () => {
      const layers = selected.map((id) => session.layer(id)).filter((layer) => layer !== undefined);
      const wanted = layers.flatMap((layer) => ghostFrames(session, layer).map((frame) => [layer.id!, frame]));
      const state = wanted.join(";") + (session.frames.trying ? "t" : "");
      if (state === last && !session.frames.trying) return;
      last = state;
      painter.clear(context);
      for (const [id, frame] of wanted as [string, number][]) {
        const arrays = session.frames.layer(id, frame);
        if (arrays) painter.ghost(context, arrays, frame);
        else last = "";
      }
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session, scene, shown, playing, selected, scale]);

  return canvas;
}
