import { choices, choose } from "../scene/choices";
import type { Session } from "../scene/session";
import { fps } from "../scene/times";
import { PIECE } from "./frames";

/** Plays in real time from arrays fetched ahead: frames are skipped rather than slowed. Returns a stop. */
export function play(session: Session): () => void {
  const { frames } = session;
  const scene = session.answer!.scene;
  if (frames.frame >= scene.length - 1) frames.seek(0);
  let origin = performance.now();
  let from = frames.frame;
  let speed = choices().speed;
  let wanted = 0;
  let due = 0;
  let painted = 0;
  const stats = window as unknown as { mudskipperPlay?: { due: number; painted: number } };

  const tick = (now: number) => {
    const state = choices();
    if (state.speed !== speed) {
      from = frames.frame;
      origin = now;
      speed = state.speed;
    }
    let frame = from + Math.floor(((now - origin) / 1000) * fps(scene) * speed);
    if (frame >= frames.length) {
      if (!state.loop) {
        frames.seek(frames.length - 1);
        choose({ playing: false });
        return;
      }
      from = 0;
      origin = now;
      frame = 0;
    }
    if (!frames.has(frame)) {
      void frames.ensure(frame);
      from = frames.frame;
      origin = now;
    } else if (frame !== frames.frame) {
      due += Math.max(frame - frames.frame, 1);
      painted += 1;
      frames.seek(frame);
      void frames.ensure(Math.min(frame + PIECE / 2, frames.length - 1));
    }
    stats.mudskipperPlay = { due, painted };
    wanted = requestAnimationFrame(tick);
  };
  wanted = requestAnimationFrame(tick);
  return () => cancelAnimationFrame(wanted);
}
