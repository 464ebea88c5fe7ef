import { useEffect, useRef } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { zoomBy } from "../acts/zoom";
import { isItem, isMask, outOf } from "../document/items";
import { anchorAt, STATIONS } from "../geometry/layerGeometry";
import { inOverlay, toNamedRegion } from "../parts/focus";
import type { Session } from "../session/session";
import { looking, setLooking } from "../state/looking";
import { say, setPage } from "../state/page";
import { playback, setPlayback } from "../state/playback";
import { selection } from "../state/selection";
import { tools } from "../state/tools";
import { arrowStep, leaveInnermost, nudge, step, stepBeat, stepEdge, toPose } from "./acts";
import { COMMANDS } from "./commands";
import { isLetterInNumber, takenElsewhere, undoesText } from "./keysHeard";

const PAD = Object.keys(STATIONS);
const NUMPAD: Record<string, string> = Object.fromEntries(
  [7, 8, 9, 4, 5, 6, 1, 2, 3].map((digit, i) => [`Numpad${digit}`, PAD[i]]),
);

/** With Alt: the part of the page that gets the keyboard. */
const REGION_KEYS: Record<string, string> = {
  KeyS: "[data-testid=stage]",
  KeyL: "[aria-label=Lanes]",
  KeyO: "[data-testid=pose-strip]",
  KeyP: "[data-testid=panel]",
};

/** Keys that are held while arrows or the pointer move the anchor, or the content behind its window. */
const HELD: Record<string, "q" | "w" | "a"> = { KeyQ: "q", KeyW: "w", KeyA: "a" };

/** The whole of the main view by keyboard. */
export function useKeyboard(session: Session) {
  const { frames } = session;
  const on = (
    keys: string,
    act: (event: KeyboardEvent) => void,
    { repeats = false, ignoreEventWhen = takenElsewhere } = {},
  ) =>
    // biome-ignore lint/correctness/useHookAtTopLevel: always called in the same order
    useHotkeys(
      keys,
      // Held, a key does its work once, but for those that step.
      (event) => (repeats || !event.repeat) && act(event),
      { preventDefault: true, useKey: true, enableOnFormTags: true, ignoreEventWhen },
      [session],
    );
  for (const { hotkey, run, repeats, always, everywhere } of COMMANDS)
    if (hotkey) {
      const ignoreEventWhen = always
        ? undoesText
        : everywhere
          ? ({ target }: KeyboardEvent) => inOverlay(target)
          : takenElsewhere;
      on(hotkey, (event) => run(session, event), { repeats, ignoreEventWhen });
    }

  const anchorKey = useRef<"q" | "w" | "a" | null>(null);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (isLetterInNumber(event)) {
        event.preventDefault();
        if (!event.repeat)
          say(
            `“${event.key}” is no number. Type digits, a calculation, +10 or *1.5; Esc gives the keyboard to the stage.`,
          );
        return;
      }
      const region = event.altKey && !event.ctrlKey && !event.metaKey ? REGION_KEYS[event.code] : undefined;
      if (region && !inOverlay(event.target)) {
        event.preventDefault();
        toNamedRegion(region);
        return;
      }
      const edge = { Period: 1, Comma: -1 }[event.code] as 1 | -1 | undefined;
      if (edge && event.altKey && !event.ctrlKey && !event.metaKey && !takenElsewhere(event)) {
        event.preventDefault();
        stepEdge(session, edge);
        return;
      }
      const digit = /^Digit([1-9])$/.exec(event.code)?.[1];
      if (digit && event.altKey && !event.ctrlKey && !event.metaKey && !takenElsewhere(event)) {
        event.preventDefault();
        toPose(session, Number(digit));
        return;
      }
      if (event.ctrlKey || event.metaKey || event.altKey || takenElsewhere(event)) return;
      if (event.key === " ") {
        if (!event.repeat) setPlayback({ playing: !playback().playing });
      } else if (event.key.toLowerCase() === "c") setLooking({ before: true });
      else if (event.key === "?") setPage({ dialog: "keys" });
      else if (event.key === "," || event.key === "<") frames.seek(frames.frame - (event.shiftKey ? 10 : 1));
      else if (event.key === "." || event.key === ">") frames.seek(frames.frame + (event.shiftKey ? 10 : 1));
      else if (event.key === "[" || event.key === "]") step(session, event.key === "]" ? 1 : -1);
      else if (event.key === "{" || event.key === "}") stepBeat(session, event.key === "}" ? 1 : -1);
      else if (["1", "2", "3"].includes(event.key) && event.code.startsWith("Digit"))
        setPlayback({ speed: [1, 0.5, 0.25][Number(event.key) - 1] });
      else if (event.key.startsWith("Arrow")) nudge(session, event);
      else if (event.key === "+" || event.key === "=" || event.key === "-") zoomBy(event.key === "-" ? 1 / 1.25 : 1.25);
      else if (event.key === "Escape") leaveInnermost(session);
      else return;
      event.preventDefault();
    };
    const up = (event: KeyboardEvent) => {
      if (HELD[event.code]) anchorKey.current = null;
      if (event.key.toLowerCase() === "c" && looking().before) setLooking({ before: false });
    };
    // A key let go in another window is never heard of here.
    const blur = () => {
      anchorKey.current = null;
      if (looking().before) setLooking({ before: false });
    };
    const move = anchorSteps(session);
    // Before all else, since the number pad's keys mean Home and the arrows as well.
    const stations = (event: KeyboardEvent) => {
      if (takenElsewhere(event)) return;
      const key = event.ctrlKey || event.metaKey ? undefined : HELD[event.code];
      if (key) anchorKey.current = key;
      const { selected } = selection();
      if (!anchorKey.current || selected.length !== 1) return;
      const station = anchorKey.current === "q" ? NUMPAD[event.code] : undefined;
      if (!move(selected[0], anchorKey.current, station ?? arrowStep(event))) return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    window.addEventListener("keydown", stations, true);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("keydown", stations, true);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", blur);
    };
  }, [session, frames]);
}

/** The anchor to a station, or by a step: from where it was sent last, while that is not answered yet. */
function anchorSteps(session: Session) {
  let sent: { layer: string; frame: number; at: [number, number] } | null = null;
  return (layer: string, key: "q" | "w" | "a", by: string | [number, number] | null): boolean => {
    const { frame } = session.frames;
    const arrays = session.frames.layer(layer);
    if (!by || !arrays) return false;
    if (key === "a") {
      const framed = isMask(layer) ? outOf(layer) : layer;
      if (typeof by === "string" || isItem(framed)) return false;
      void session.step("content", { edit: "move_content", layer: framed, frame, by });
      return true;
    }
    const keep = key === "q" ? ("picture" as const) : ("anchor" as const);
    const base = { edit: "move_anchor" as const, layer, frame, keep, scope: tools().scope };
    if (typeof by === "string") {
      void session.edit({ ...base, to: { station: by } });
      return true;
    }
    // With the picture staying put the mark goes along; with the anchor staying put it stays, and each step is alike.
    const goes = key === "q";
    const [x, y] = goes && sent?.layer === layer && sent.frame === frame ? sent.at : anchorAt(arrays, frame);
    const at: [number, number] = goes ? [x + by[0], y + by[1]] : [x - by[0], y - by[1]];
    const mine = { layer, frame, at };
    if (goes) sent = mine;
    void session.step(`anchor ${key}`, { ...base, to: { scene: at } }).finally(() => {
      if (sent === mine) sent = null;
    });
    return true;
  };
}
