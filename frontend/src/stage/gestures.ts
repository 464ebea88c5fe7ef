import { isItem, isMask, outOf } from "../document/items";
import type { Point, View } from "../geometry/layerGeometry";
import type { Session } from "../session/session";
import { cascadeShown, setCascade } from "../state/cascades";
import { drawing } from "../state/drawing";
import { say } from "../state/page";
import { select, selection, setSelection } from "../state/selection";
import { tools } from "../state/tools";
import { AnchorDrag } from "./hands/anchor";
import { ContentDrag } from "./hands/content";
import { DrawDrag } from "./hands/draw";
import { EffectPointDrag } from "./hands/effectPoint";
import type { Gesture } from "./hands/gesture";
import { GradientDrag } from "./hands/gradient";
import { GuideDrag } from "./hands/guide";
import { HandleDrag } from "./hands/handle";
import { Marquee } from "./hands/marquee";
import { LayerDrag } from "./hands/move";
import { PathKeyDrag, TangentDrag } from "./hands/path";
import { PenStroke } from "./hands/pen";
import { BendDrag, PointsDrag } from "./hands/points";
import { TurnDrag } from "./hands/turn";
import { UnitAnchorDrag } from "./hands/unit";
import { type Hit, handled, hitAt, lockedAt } from "./hitTest";

/** Where a press began, and what it may take: the selected layers that are not locked. */
interface Start {
  session: Session;
  view: View;
  at: Point;
  ids: string[];
  shift: boolean;
}

/** What begins once the pointer has moved. */
export type Begin = () => Gesture | null;

type Table = { [Kind in Hit["kind"]]: (hit: Extract<Hit, { kind: Kind }>, start: Start) => Begin };

/** From what was hit to its gesture. */
const GESTURES: Table = {
  anchor: (_, { session, ids, view, at }) => {
    const { keep } = tools();
    return () => new AnchorDrag(session, ids[0], view, at, keep);
  },
  handle:
    (hit, { session, ids, view, at }) =>
    () =>
      new HandleDrag(session, ids, hit.name, view, at),
  ring:
    (_, { session, ids, view, at }) =>
    () =>
      new TurnDrag(session, ids, view, at),
  guide:
    (hit, { session, view }) =>
    () =>
      new GuideDrag(session, hit.axis, hit.place, view),
  tangent:
    (hit, { session, view }) =>
    () =>
      new TangentDrag(session, hit.layer, hit.frame, hit.side, hit.key, hit.other, view),
  key:
    (hit, { session, view, at }) =>
    () => {
      setSelection({ pathKey: { layer: hit.layer, frame: hit.frame } });
      return new PathKeyDrag(session, hit.layer, hit.frame, hit.point, hit.position, view, at);
    },
  point:
    (hit, { session, view, at }) =>
    () =>
      new PointsDrag(session, hit.layer, hit.point, view, at),
  bend:
    (hit, { session, view }) =>
    () =>
      new BendDrag(session, hit.layer, hit.point, hit.side, view),
  gradient:
    (hit, { session, view }) =>
    () =>
      new GradientDrag(session, hit.layer, hit.paint, hit, view),
  "unit anchor":
    (hit, { session, view, at }) =>
    () => {
      setCascade({ unit: hit.unit });
      return new UnitAnchorDrag(session, hit.layer, cascadeShown(hit.layer)?.index ?? 0, view, at);
    },
  "effect point":
    (hit, { session, view }) =>
    () =>
      new EffectPointDrag(session, hit.layer, hit.path, view),
  outline:
    (_, { session, view, at }) =>
    () =>
      new Marquee(session, view, at),
  nothing: (_, { session, view, at }) => {
    const locked = lockedAt(session, view, at);
    return () => (locked.length ? new LayerDrag(session, locked, view, at) : new Marquee(session, view, at));
  },
  layer: (hit, { session, ids, view, at, shift }) => {
    if (selection().points) return () => new Marquee(session, view, at);
    // A locked layer that is selected holds its place: no hand reaches what lies behind it.
    const locked = lockedAt(session, view, at);
    if (locked.length && !shift) return () => new LayerDrag(session, locked, view, at);
    const holds = ids.some((id) => hit.ids.includes(id));
    if (shift && !holds) return () => new Marquee(session, view, at);
    const moved = holds ? ids : hit.ids.slice(0, 1);
    return () => {
      if (moved.join() !== selection().selected.join()) select(...moved);
      return new LayerDrag(session, moved, view, at);
    };
  },
};

/** The content behind its window is moved of one layer, also where one of its masks is selected. */
function contentDrag(session: Session, ids: string[], view: View, at: Point): Gesture | null {
  const [id] = ids.length === 1 ? ids : [undefined];
  const layer = id && isMask(id) ? outOf(id) : id;
  if (!layer || isItem(layer) || !session.frames.layer(layer)) {
    say("Select one layer to move its content behind its masks or its crop.");
    return null;
  }
  return new ContentDrag(session, layer, view, at);
}

/**
 * The gesture of a press; `stays` says that a key held meanwhile moves the anchor, or the content behind its window, from
 * anywhere, and what stays put.
 */
export function gestureAt(
  session: Session,
  view: View,
  at: Point,
  shift: boolean,
  stays: "anchor" | "picture" | "window" | null,
): Begin {
  if (selection().drawing) return () => new PenStroke(session, view, at);
  if (drawing().draws) return () => new DrawDrag(session, view, at);
  const ids = handled(session).map((layer) => layer.id!);
  if (stays === "window") return () => contentDrag(session, ids, view, at);
  if (stays && ids.length === 1 && session.frames.layer(ids[0]))
    return () => new AnchorDrag(session, ids[0], view, at, stays);
  const hit = hitAt(session, view, at);
  return (GESTURES[hit.kind] as (hit: Hit, start: Start) => Begin)(hit, { session, view, at, ids, shift });
}
