import { useEffect } from "react";
import type { Edit } from "../api/client";
import { fps } from "../geometry/times";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { playback, setPlayback } from "../state/playback";

/**
 * Try an edit on the stage, and play the frames first…last over and over while it is tried, with a short rest at the end.
 * Where there is none, what was tried goes. It is tried again on each revision of the scene; when the part of the page
 * that asked for it goes, all is given back, and the playhead comes back to `home`.
 */
export function useTryAndPlay(edit: Edit | null, [first, last]: [number, number], home: number) {
  const session = useSession();
  const { revision } = useScene();
  const editText = JSON.stringify(edit);

  // biome-ignore lint/correctness/useExhaustiveDependencies: `editText` holds all of the edit
  useEffect(() => {
    if (!edit) {
      session.cancel();
      return;
    }
    session.try([edit]);
    let wanted = 0;
    const begin = performance.now();
    const rate = fps(session.answer!.scene);
    const [from, to] = [Math.max(first, 0), last];
    const tick = (now: number) => {
      // Two that move the playhead would fight over it.
      if (playback().playing) setPlayback({ playing: false });
      const whole = to - from + rate / 2;
      session.frames.seek(Math.min(from + Math.floor((((now - begin) / 1000) * rate) % whole), to));
      wanted = requestAnimationFrame(tick);
    };
    wanted = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(wanted);
  }, [editText, first, last, session, revision]);

  // Once React is done with it, since fields of the panel listen as well.
  useEffect(
    () => () =>
      queueMicrotask(() => {
        session.cancel();
        session.frames.seek(home);
      }),
    [session, home],
  );
}
