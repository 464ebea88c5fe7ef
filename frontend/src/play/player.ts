import { PIECE } from "../document/frames";
import { fps } from "../geometry/times";
import type { Session } from "../session/session";
import { playback, setPlayback } from "../state/playback";
import { sceneView } from "../state/sceneView";
import { selection } from "../state/selection";
import { clipsAreHere, fetchAhead } from "./clipsAhead";
import { SoundPlayer } from "./soundPlayer";

/** The frames first…last of the whole scene, the selected span, the marked range or the selected keys; null without. */
export function framesOver(session: Session, which: "all" | "span" | "keys" | "range"): [number, number] | null {
  const last = session.frames.length - 1;
  const { range } = sceneView();
  const { selected, keys } = selection();
  const within = (frames: number[]): [number, number] | null => {
    if (!frames.length) return null;
    const [a, b] = [Math.floor(Math.min(...frames)), Math.ceil(Math.max(...frames))];
    return b > a ? [Math.min(Math.max(a, 0), last), Math.min(Math.max(b, 0), last)] : null;
  };
  if (which === "range") return within(range ?? []);
  if (which === "keys") return within(keys.map((key) => key.frame));
  if (which === "span")
    return within(
      selected.flatMap((id) => {
        const span = session.layer(id)?.span;
        return span ? [span.start, span.start + span.length - 1] : [];
      }),
    );
  return [0, last];
}

/** The frames first…last over which the scene plays, by what was chosen to be looped over. */
export function played(session: Session): [number, number] {
  const [first, last] = framesOver(session, sceneView().loopOver) ?? [0, 0];
  return last > first ? [first, last] : [0, session.frames.length - 1];
}

/** The frame that is played after one, as playing loops or not. */
export function playedAfter(session: Session): (frame: number) => number {
  const [first, last] = played(session);
  return (frame) => (frame < last ? frame + 1 : playback().loop ? first : last);
}

/** Half the time of a display frame, in milliseconds. */
const HALF = 8;

/**
 * How many scene frames have begun in a time of display frames, in milliseconds. They begin half-way between display
 * frames, whose times are never quite even, so that none is painted twice and none passed over where the rates are alike.
 */
export const framesIn = (time: number, rate: number) => Math.floor(((time + HALF) / 1000) * rate);

/** How often it is looked which frames of clips will be needed, in milliseconds. */
const LOOK = 100;

/** Frames of which the clips are waited for before playing begins. */
const FIRST = 8;

/** What playing has come to: frames due and painted since it began, and the rate reached of late. */
export interface Played {
  due: number;
  painted: number;
  rate: number;
}

/** Plays in real time from arrays fetched ahead: frames are skipped rather than slowed. Returns a stop. */
export function play(session: Session): () => void {
  const { frames } = session;
  const scene = session.answer!.scene;
  let [first, last] = played(session);
  if (frames.frame >= last || frames.frame < first) frames.seek(first);
  let origin: number | null = null;
  let from = frames.frame;
  let speed = playback().speed;
  let wanted = 0;
  let started = false;
  let looked = Number.NEGATIVE_INFINITY;
  const stats: Played = { due: 0, painted: 0, rate: 0 };
  (window as unknown as { mudskipperPlay?: Played }).mudskipperPlay = stats;
  const times: number[] = [];

  const sound = new SoundPlayer(session);
  let sounding = false;
  let playedOver = "";

  const begin = (frame: number, now: number) => {
    from = frame;
    origin = now;
    if (sounding) sound.stop();
    sounding = false;
  };
  /** Milliseconds since it began: by the clock of the sound while there is one, which leads. */
  const since = (now: number) => {
    const heard = sound.elapsed;
    if (heard === null) return now - origin!;
    origin = now - heard * 1000;
    return heard * 1000;
  };
  const tick = (now: number) => {
    const state = playback();
    if (origin === null || state.speed !== speed) {
      begin(frames.frame, now);
      speed = state.speed;
    }
    [first, last] = played(session);
    const over = `${state.loop} ${first} ${last}`;
    if (sounding && over !== playedOver) begin(frames.frame, now);
    playedOver = over;
    if (sounding && sound.coming) origin = now;
    let frame = from + framesIn(since(now), fps(scene) * speed);
    if (frame > last) {
      if (!state.loop) {
        frames.seek(last);
        setPlayback({ playing: false });
        return;
      }
      const past = (frame - last - 1) % (last - first + 1);
      frame = first + past;
      // A sound that is played over goes on by itself, and so do the frames that it leads.
      if (sound.elapsed === null) begin(frame, now);
    }
    if (!frames.has(frame)) {
      void frames.ensure(frame);
      begin(frames.frame, now);
    } else if (!started && !clipsAreHere(session, frame, playedAfter(session), FIRST)) {
      begin(frames.frame, now);
    } else if (started && !clipsAreHere(session, frame)) {
      // A frame that is late is left out, and counted as due.
    } else if (!sounding && session.heard.length && state.sound) {
      from = frame;
      origin = now;
      sounding = true;
      sound.begin(frame, speed, state.loop ? [first, last + 1] : null);
    } else if (frame !== frames.frame) {
      started = true;
      stats.due += frame > frames.frame ? frame - frames.frame : 1;
      stats.painted += 1;
      times.push(now);
      while (times[0] < now - 1000) times.shift();
      stats.rate = times.length > 2 ? ((times.length - 1) * 1000) / (times[times.length - 1] - times[0]) : 0;
      frames.seek(frame);
      void frames.ensure(Math.min(frame + PIECE / 2, frames.length - 1));
      if (frame + PIECE / 2 > last) void frames.ensure(first);
    }
    if (now - looked > LOOK) {
      looked = now;
      fetchAhead(session, frame, playedAfter(session));
      sound.look();
    }
    wanted = requestAnimationFrame(tick);
  };
  wanted = requestAnimationFrame(tick);
  return () => {
    cancelAnimationFrame(wanted);
    sound.stop();
  };
}
