import type { LayerArrays, Operation } from "../api/arrays";
import { row } from "../api/arrays";
import { hasFilm } from "../document/contents";
import type { Session } from "../session/session";

/** Scene frames of which the clip frames are fetched ahead while the scene plays. */
const AHEAD = 60;

/** Of each clip that a layer shows at a scene frame: its frame, and its width in scene pixels. */
function shownIn(layer: LayerArrays, frame: number): [string, number, number][] {
  const found: [string, number, number][] = [];
  const walk = (parts: Operation[], matrix: number) => {
    for (const part of parts) {
      if (part.op === "group") {
        walk(part.parts, part.matrix);
        if (part.matte) walk(part.matte.parts, part.matrix);
      } else if (part.op === "image" && part.frame !== null) {
        const [a, b, c, d] = row(layer, matrix, frame);
        const width = row(layer, part.box, frame)[2] * Math.sqrt(Math.abs(a * d - b * c));
        found.push([part.source, row(layer, part.frame, frame)[0], width]);
      }
    }
  };
  if (row(layer, layer.group.visible, frame)[0]) walk([layer.group], layer.group.matrix);
  return found;
}

/** Whether any layer shows a clip. */
const showsClips = (session: Session) => (session.answer?.scene.layers ?? []).some(({ content }) => hasFilm(content));

/** Whether every clip frame of a scene frame is here as the exporter has it; those that are not are asked for. */
export function exactFramesAreHere(session: Session, frame: number): boolean {
  if (!showsClips(session)) return true;
  const { clips } = session.pictures;
  return session.frames.order
    .flatMap((id) => {
      const layer = session.frames.layer(id, frame);
      return layer ? shownIn(layer, frame) : [];
    })
    .map(([source, one]) => one < 0 || clips.exact(source, one) !== null || !clips.isComing(source, one))
    .every(Boolean);
}

/** Whether every clip frame of a scene frame is here, small at least; and of those that follow it, `count` in all. */
export function clipsAreHere(session: Session, frame: number, next = (frame: number) => frame, count = 1): boolean {
  if (!showsClips(session)) return true;
  const { clips } = session.pictures;
  const here = (at: number) =>
    session.frames.order.every((id) => {
      const layer = session.frames.layer(id, at);
      return !layer || shownIn(layer, at).every(([source, one]) => clips.has(source, one));
    });
  let at = frame;
  for (let step = 0; step < count; step += 1, at = next(at)) if (!here(at)) return false;
  return true;
}

/** A hand hovers where it may press: have the frames of clips decoded there, so that the exact ones are near. */
export function fetchWhereHovered(session: Session, frame: number) {
  if (!showsClips(session)) return;
  const { frames, pictures } = session;
  frames.look(frame);
  for (const id of frames.order) {
    const layer = frames.layer(id, frame);
    for (const [source, at, width] of layer ? shownIn(layer, frame) : [])
      if (at >= 0) pictures.clips.foresee(source, at, width * session.displayScale);
  }
}

/**
 * Fetch the clip frames that playing comes to from a scene frame on, in the order in which it does; `next` takes a scene
 * frame to the one after it.
 */
export function fetchAhead(session: Session, from: number, next: (frame: number) => number) {
  if (!showsClips(session)) return;
  const { frames, pictures } = session;
  const wanted = new Map<string, { at: Set<number>; width: number }>();
  let frame = from;
  for (let step = 0; step < AHEAD; step += 1, frame = next(frame)) {
    for (const id of frames.order) {
      const layer = frames.layer(id, frame);
      for (const [source, at, width] of layer ? shownIn(layer, frame) : []) {
        const one = wanted.get(source) ?? { at: new Set(), width: 0 };
        if (at >= 0) one.at.add(at);
        one.width = Math.max(one.width, width * session.displayScale);
        wanted.set(source, one);
      }
    }
  }
  for (const [source, { at, width }] of wanted) pictures.clips.want(source, [...at], width);
}
