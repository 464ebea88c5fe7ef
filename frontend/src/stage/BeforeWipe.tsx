import { useEffect, useRef } from "react";
import type { Group, LayerArrays, Operation } from "../api/arrays";
import { layerIn } from "../document/items";
import type { View } from "../geometry/layerGeometry";
import { Painter } from "../paint/painter";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useLooking } from "../state/looking";
import { useSelection } from "../state/selection";
import type { StageView } from "./useStageView";

/** While its key is held: to the right of the pointer the picture as it is without the effects of what is selected. */
export function BeforeWipe({ stage, view }: { stage: StageView; view: View }) {
  const shown = useLooking((state) => state.before);
  return shown ? <Before stage={stage} view={view} /> : null;
}

const isGroup = (part: Operation): part is Group => part.op === "group";

/** A group, and all groups in it, with no effects on them. */
const plain = (group: Group): Group => ({
  ...group,
  effects: null,
  parts: group.parts.map((part) => (isGroup(part) ? plain(part) : part)),
});

function Before({ stage, view }: { stage: StageView; view: View }) {
  const session = useSession();
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const canvas = useRef<HTMLCanvasElement>(null);
  const scale = Math.min(view.scale * devicePixelRatio, 1);

  useEffect(() => {
    const on = canvas.current!;
    on.width = Math.round(scene.width * scale);
    on.height = Math.round(scene.height * scale);
    const context = on.getContext("2d")!;
    const painter = new Painter(session.pictures, session.frames.outlines, scale);
    const whose = new Set(selected.map(layerIn));
    const without = (layer: LayerArrays, id: string) =>
      !whose.size || whose.has(id) ? { ...layer, group: plain(layer.group) } : layer;
    const paint = () => {
      const { frames } = session;
      const layers = frames.order.flatMap((id) => {
        const layer = frames.layer(id);
        return layer ? [without(layer, id)] : [];
      });
      painter.paint(context, scene.background ?? "#00000000", layers, frames.frame);
      on.dataset.painted = `${frames.frame}`;
    };
    paint();
    return session.frames.subscribe(paint);
  }, [session, scene.background, scene.width, scene.height, selected, scale]);

  useEffect(() => {
    const on = canvas.current!;
    const { area } = stage;
    const follow = ({ clientX }: PointerEvent) => {
      const { left, width } = on.getBoundingClientRect();
      const share = Math.min(Math.max((clientX - left) / width, 0), 1);
      on.style.clipPath = `inset(0 0 0 ${share * 100}%)`;
      on.style.boxShadow = "none";
    };
    on.style.clipPath = "inset(0 0 0 50%)";
    const field = area.current!;
    field.addEventListener("pointermove", follow);
    return () => field.removeEventListener("pointermove", follow);
  }, [stage]);

  return (
    <canvas
      ref={canvas}
      data-testid="before"
      aria-hidden
      style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}
    />
  );
}
