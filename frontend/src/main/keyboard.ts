import { useEffect, useRef } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { duplicate } from "../acts/duplicate";
import { editText, isText } from "../acts/editText";
import { enter, goOut } from "../acts/goInto";
import { splitLayers } from "../acts/splitLayers";
import { fit, zoomBy, zoomToSelection } from "../acts/zoom";
import { insideOf, isItem, isMask, layerIn, outOf, within } from "../document/items";
import { poseFrames } from "../document/tracks";
import { anchorAt, STATIONS } from "../geometry/layerGeometry";
import { copy } from "../keys/copyPaste";
import { deleteKeys, moveKeys } from "../keys/keys";
import { inOverlay, toNamedRegion, toRegion, toStage } from "../parts/focus";
import { cancelPress, pressing } from "../parts/press";
import { keyPose } from "../poses/AddPose";
import { endDrawing, startDrawing } from "../session/drawnPath";
import type { Session } from "../session/session";
import { looking, lookNoMore, setLooking } from "../state/looking";
import { meantForDialog, page, say, setPage } from "../state/page";
import { playback, setPlayback } from "../state/playback";
import { sceneView, setSceneView } from "../state/sceneView";
import { select, selection, setSelection } from "../state/selection";
import { setTools, tools } from "../state/tools";
import { setViewport } from "../state/viewport";
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
  const always = { repeats: true, ignoreEventWhen: undoesText };

  on("l", () => setPlayback({ loop: !playback().loop }));
  on("home", () => frames.seek(0));
  on("end", () => frames.seek(frames.length - 1));
  // What the pointer holds is given back first; the step before it stays.
  on("mod+z", () => (pressing() ? cancelPress() : void session.undo()), always);
  on("mod+shift+z, mod+y", () => pressing() || void session.redo(), always);
  on("mod+d", () => void duplicate(session, selection().selected));
  on("mod+a", () => select(...around(session).filter((id) => !session.layer(id)?.locked)));
  on("p", () => startDrawing(insideOf(selection().selected)));
  on("m", () => {
    setTools({ magnet: !tools().magnet });
    say(`The magnet is ${tools().magnet ? "on" : "off"}.`);
  });
  on("f", () => setPage({ full: !page().full }));
  on("0", fit);
  on("9", () => setViewport({ zoom: 1 }));
  on("z", () => zoomToSelection(session));
  on("n", () => cycle(session, 1), { repeats: true });
  on("shift+n", () => cycle(session, -1), { repeats: true });
  on("enter", (event) => {
    if (meantForDialog(event)) return;
    const { selected, drawing } = selection();
    if (drawing) {
      void endDrawing(session);
      return;
    }
    if (selected.length !== 1) return;
    if (isText(session, selected[0])) editText(session, selected[0]);
    else enter(session, selected[0]);
  });
  on("f2", () => rename());
  on("f6", () => toRegion(1), { ignoreEventWhen: ({ target }) => inOverlay(target) });
  on("shift+f6", () => toRegion(-1), { ignoreEventWhen: ({ target }) => inOverlay(target) });
  on("mod+c", () => copy(session));
  on("e", () => selection().keys.length && setPage({ dialog: "values" }));
  on("y", () => selection().keys.length && setPage({ dialog: "easing" }));
  on("s", () => {
    const { solo } = sceneView();
    // A shape is painted with the layer it lies in.
    const layers = [...new Set(selection().selected.map(layerIn))];
    setSceneView({ solo: solo.length ? [] : layers });
    session.frames.notify();
  });
  on("b", () => tapBeat(session));
  on("shift+home", () => markRange(session, 0));
  on("shift+end", () => markRange(session, 1));
  on("alt+arrowleft", () => nudgeKeys(session, -1), { repeats: true });
  on("alt+arrowright", () => nudgeKeys(session, 1), { repeats: true });
  on("alt+shift+arrowleft", () => nudgeKeys(session, -10), { repeats: true });
  on("alt+shift+arrowright", () => nudgeKeys(session, 10), { repeats: true });
  on("x", () => {
    const { selected } = selection();
    const { frame } = session.frames;
    if (selected.length) void splitLayers(session, selected, frame);
  });
  on("delete, backspace", () => remove(session));
  on("k", () => keyPose(session));

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

/** Esc leaves the innermost thing: a path that is drawn, a drawer, then the layer; the stage has the keyboard then. */
function leaveInnermost(session: Session) {
  const { drawing, selected } = selection();
  if (lookNoMore()) return;
  if (drawing) void endDrawing(session);
  else if (page().drawer) {
    setPage({ drawer: null });
    toStage(null);
  } else if (sceneView().compare) setSceneView({ compare: null });
  else if (page().full && !selected.length) setPage({ full: false });
  else goOut(selected);
}

/** Type the selected layer's name in the lanes. */
function rename() {
  const { selected } = selection();
  if (selected.length === 1) setSelection({ renaming: selected[0] });
  else say("Select one layer to rename it.");
}

/** A beat at the playhead, also while playing. */
function tapBeat(session: Session) {
  void session.edit({ edit: "add_beats", frames: [session.frames.frame], label: "" });
}

/** The start (0) or end (1) of the range that is looped, at the playhead. */
function markRange(session: Session, end: 0 | 1) {
  const { frame, length } = session.frames;
  const [first, last] = sceneView().range ?? [0, length - 1];
  const next: [number, number] = end === 0 ? [frame, Math.max(last, frame + 1)] : [Math.min(first, frame - 1), frame];
  if (next[0] < 0 || next[1] >= length) return;
  setSceneView({ range: next, loopOver: "range" });
  setPlayback({ loop: true });
  say(`Looping over frames ${next[0]} to ${next[1]}.`);
}

function nudgeKeys(session: Session, by: number) {
  const { keys } = selection();
  if (keys.length) void moveKeys(session, keys, by);
  else say("Select keys in the lanes or a pose first; then Alt and the arrows move them in time.");
}

/** The layers, front first; the shapes beside the selected one while that lies in a layer. */
function around(session: Session): string[] {
  const parent = session.layer(insideOf(selection().selected));
  return parent ? within(parent) : [...session.frames.order].reverse();
}

/** Select the next layer or shape, front first, or the one before; round and round. */
function cycle(session: Session, way: 1 | -1) {
  const order = around(session);
  if (!order.length) return;
  const here = order.indexOf(selection().selected.at(-1) ?? "");
  const first = way > 0 ? 0 : order.length - 1;
  select(order[here < 0 ? first : (here + way + order.length) % order.length]);
}

/** The step of an arrow key in pixels: 1, or 10 with Shift. */
function arrowStep(event: KeyboardEvent): [number, number] | null {
  const far = event.shiftKey ? 10 : 1;
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-far, 0],
    ArrowRight: [far, 0],
    ArrowUp: [0, -far],
    ArrowDown: [0, far],
  };
  return steps[event.key] ?? null;
}

function nudge(session: Session, event: KeyboardEvent) {
  const { selected } = selection();
  const by = arrowStep(event);
  if (!selected.length || !by) return;
  const { points } = selection();
  if (points) {
    const [layer] = selected;
    if (points.length)
      void session.step(`points ${points}`, { edit: "move_points", layer, frame: session.frames.frame, points, by });
    return;
  }
  void session.step(`nudge ${selected}`, { edit: "move_layers", layers: selected, frame: session.frames.frame, by });
}

function step(session: Session, way: 1 | -1) {
  const here = session.frames.frame;
  const frames = selection().selected.flatMap((id) => {
    const layer = session.layer(id);
    return layer ? poseFrames(layer).map(Math.round) : [];
  });
  const found = frames.filter((frame) => (way > 0 ? frame > here : frame < here));
  if (found.length) session.frames.seek(way > 0 ? Math.min(...found) : Math.max(...found));
  else
    say(
      selection().selected.length
        ? "There is no further pose in that direction."
        : "Select a layer to step through its poses.",
    );
}

function stepBeat(session: Session, way: 1 | -1) {
  const here = session.frames.frame;
  const beats = (session.answer?.scene.beats ?? []).map((beat) => Math.round(beat.frame));
  const found = beats.filter((frame) => (way > 0 ? frame > here : frame < here));
  if (found.length) session.frames.seek(way > 0 ? Math.min(...found) : Math.max(...found));
  else say("There is no further beat in that direction; B sets one at the playhead.");
}

function remove(session: Session) {
  const { keys, selected, points } = selection();
  if (points?.length && !keys.length) {
    const [layer] = selected;
    void session.edit({ edit: "remove_points", layer, frame: session.frames.frame, points });
  } else if (points) {
    say("Select points of the path to delete them; Esc ends editing them.");
  } else if (keys.length) {
    deleteKeys(session, keys);
  } else if (selected.length) {
    const names = selected.map((id) => session.layer(id)?.name).join(", ");
    void session.edit({ edit: "delete_layers", layers: selected }).then((kept) => {
      if (!kept) return;
      if (isItem(selected[0])) select(outOf(selected[0]));
      say(`Deleted ${names}.`, true);
    });
  }
}
