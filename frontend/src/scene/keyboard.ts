import { useEffect, useRef } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { copyKeys, deleteKeys, moveKeys, pasteKeys } from "../lanes/keys";
import { keyPose } from "../poses/AddPose";
import { anchorAt, STATIONS } from "../stage/view";
import { choices, choose, say, select } from "./choices";
import { poseFrames } from "./document";
import type { Session } from "./session";

/** Every key and gesture, as the list behind `?` tells them. */
export const KEYS: [string, string][] = [
  ["Space", "Play or pause"],
  [", and .", "One frame back, one frame on (Shift: ten)"],
  ["[ and ]", "Previous and next pose of the selected layer"],
  ["Home, End", "First and last frame"],
  ["1, 2, 3", "Full, half and quarter speed"],
  ["L", "Loop"],
  ["K", "Key the pose: the chosen properties of the selected layers, here"],
  ["{ and }", "Previous and next beat"],
  ["B", "A beat at the playhead, also while playing"],
  ["Shift + Home, Shift + End", "Start and end of the range that is looped, at the playhead"],
  ["Alt + ← →", "Move the selected keys by a frame (Shift: ten)"],
  ["Ctrl/Cmd C, V", "Copy the selected keys; paste them at the playhead, on the selected layers"],
  ["E, Y", "Edit the values, the easing of the selected keys"],
  ["X", "Split the selected layers at the playhead"],
  ["S", "Solo the selected layers; again: all"],
  ["Alt while dragging a span", "Slip its keys under it"],
  ["Ctrl/Cmd wheel on the lanes", "Widen them about the pointer; Shift and the wheel go along"],
  ["Arrows", "Nudge the selected layers by 1 px (Shift: 10)"],
  ["Tab on the stage", "Select the next layer"],
  ["Q held, drag", "Move the anchor, the picture stays put"],
  ["W held, drag", "Slide the picture under its anchor, which stays put"],
  ["Q + digit of the number pad", "The anchor to the station in that place"],
  ["Q or W held, arrows", "Nudge the anchor, or slide the picture under it, by 1 px (Shift: 10)"],
  ["Handles of the box", "Scale, or size, about the anchor (Shift: in proportion)"],
  ["The ring outside the box", "Turn; turns are counted (Shift: steps of 15°)"],
  ["Drag on the empty stage", "Select what the frame touches (Shift adds)"],
  ["Keys of the path", "Drag them; click one for its handles (Alt: one handle alone)"],
  ["Ctrl/Cmd while dragging", "Let go of the magnet"],
  ["Shift while dragging", "One axis only"],
  ["M", "Magnet on or off"],
  ["Ctrl/Cmd A", "Select every layer that is not locked"],
  ["Esc", "Give a gesture back; then: select nothing"],
  ["Delete", "Delete the selected keys, else the selected layers"],
  ["Ctrl/Cmd D", "Duplicate the selected layers"],
  ["Ctrl/Cmd Z, Ctrl/Cmd Shift Z", "Undo, redo"],
  [
    "In a number",
    "Drag to scrub; type a sum, or +10, *1.5; ↑ ↓ step (Shift ×10, Alt ×0.1); Enter takes; Esc gives back",
  ],
  ["Ctrl/Cmd wheel, + and −", "Zoom; 0 fits the scene, 9 shows it at 100 %"],
  ["Wheel, middle button, H held", "Pan"],
];

const PAD = Object.keys(STATIONS);
const NUMPAD: Record<string, string> = Object.fromEntries(
  [7, 8, 9, 4, 5, 6, 1, 2, 3].map((digit, i) => [`Numpad${digit}`, PAD[i]]),
);

/** Whether a key is meant for what stands over the main view, which has its own Esc, its own arrows, and no layers. */
const elsewhere = ({ target }: KeyboardEvent) =>
  choices().dialog !== null ||
  (target instanceof Element &&
    target.closest("[data-scope=popover], [data-scope=menu], [role=dialog], [role=menu]") !== null);

const nowhere = () => false;

/** The whole of the main view by keyboard. */
export function useKeyboard(session: Session) {
  const { frames } = session;
  const on = (keys: string, act: (event: KeyboardEvent) => void, ignoreEventWhen = elsewhere) =>
    // biome-ignore lint/correctness/useHookAtTopLevel: always called in the same order
    useHotkeys(keys, act, { preventDefault: true, useKey: true, ignoreEventWhen }, [session]);

  on("l", () => choose({ loop: !choices().loop }));
  on("home", () => frames.seek(0));
  on("end", () => frames.seek(frames.length - 1));
  // Undo and redo work from everywhere but from a text, which has its own.
  on("mod+z", () => void session.undo(), nowhere);
  on("mod+shift+z, mod+y", () => void session.redo(), nowhere);
  on("mod+d", () => {
    const { selected } = choices();
    if (selected.length) void session.edit({ edit: "duplicate_layers", layers: selected });
  });
  on("mod+a", () => select(...[...frames.order].reverse().filter((id) => !session.layer(id)?.locked)));
  on("m", () => {
    choose({ magnet: !choices().magnet });
    say(`The magnet is ${choices().magnet ? "on" : "off"}.`);
  });
  on("0", () => choose({ zoom: null }));
  on("9", () => choose({ zoom: 1 }));
  on("mod+c", () => copyKeys(session, choices().keys));
  on("mod+v", () => pasteKeys(session));
  on("e", () => choices().keys.length && choose({ dialog: "values" }));
  on("y", () => choices().keys.length && choose({ dialog: "easing" }));
  on("s", () => {
    const { solo, selected } = choices();
    choose({ solo: solo.length ? [] : selected });
    session.frames.notify();
  });
  on("b", () => tapBeat(session));
  on("shift+home", () => markRange(session, 0));
  on("shift+end", () => markRange(session, 1));
  on("alt+arrowleft", () => nudgeKeys(session, -1));
  on("alt+arrowright", () => nudgeKeys(session, 1));
  on("alt+shift+arrowleft", () => nudgeKeys(session, -10));
  on("alt+shift+arrowright", () => nudgeKeys(session, 10));
  on("x", () => {
    const { selected } = choices();
    const { frame } = session.frames;
    if (selected.length)
      void session.edit(...selected.map((layer) => ({ edit: "split_layer" as const, layer, frame }) as never));
  });
  on("delete, backspace", () => remove(session));
  on("k", () => keyPose(session));

  const anchorKey = useRef<"q" | "w" | null>(null);
  useEffect(() => {
    const typing = (event: KeyboardEvent) =>
      event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
    const down = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey || elsewhere(event)) return;
      if (event.key === " " && (event.target as HTMLElement).matches("button:focus-visible, a:focus-visible")) return;
      if (event.key === " ") choose({ playing: !choices().playing });
      else if (event.key === "?") choose({ dialog: "keys" });
      else if (event.key === "," || event.key === "<") frames.seek(frames.frame - (event.shiftKey ? 10 : 1));
      else if (event.key === "." || event.key === ">") frames.seek(frames.frame + (event.shiftKey ? 10 : 1));
      else if (event.key === "[" || event.key === "]") step(session, event.key === "]" ? 1 : -1);
      else if (event.key === "{" || event.key === "}") stepBeat(session, event.key === "}" ? 1 : -1);
      else if (["1", "2", "3"].includes(event.key) && event.code.startsWith("Digit"))
        choose({ speed: [1, 0.5, 0.25][Number(event.key) - 1] });
      else if (
        event.key.startsWith("Arrow") &&
        !(event.target as HTMLElement).closest("[role=radiogroup], [role=menu]")
      )
        nudge(session, event);
      else if (event.key === "Tab" && document.activeElement?.getAttribute("data-testid") === "stage")
        cycle(session, event);
      else if (event.key === "+" || event.key === "=" || event.key === "-")
        choose(({ zoom }) => ({ zoom: zoomed(zoom, event.key === "-" ? 1 / 1.25 : 1.25) }));
      else if (event.key === "Escape") select();
      else return;
      event.preventDefault();
    };
    const up = (event: KeyboardEvent) => {
      if (event.code === "KeyQ" || event.code === "KeyW") anchorKey.current = null;
    };
    // Before all else, since the number pad's keys mean Home and the arrows as well.
    const stations = (event: KeyboardEvent) => {
      if (typing(event) || elsewhere(event)) return;
      if (event.code === "KeyQ") anchorKey.current = "q";
      if (event.code === "KeyW") anchorKey.current = "w";
      const { selected, scope } = choices();
      if (!anchorKey.current || selected.length !== 1) return;
      const station = anchorKey.current === "q" ? NUMPAD[event.code] : undefined;
      const to = station ? { station } : nudgedAnchor(session, selected[0], event, anchorKey.current);
      if (!to) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      const keep = anchorKey.current === "q" ? "picture" : "anchor";
      void session.edit({ edit: "move_anchor", layer: selected[0], frame: frames.frame, keep, scope, to });
    };
    window.addEventListener("keydown", stations, true);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", stations, true);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [session, frames]);
}

/** The zoom after a step; from a fitted view it starts at what is shown. */
function zoomed(zoom: number | null, factor: number): number {
  const shown = document.querySelector<HTMLElement>("[data-testid=stage]")?.dataset.scale;
  return Math.min(Math.max((zoom ?? Number(shown ?? 1)) * factor, 0.05), 64);
}

/** A beat at the playhead, also while playing. */
function tapBeat(session: Session) {
  void session.edit({ edit: "add_beats", frames: [session.frames.frame], label: "" });
}

/** The start (0) or end (1) of the range that is looped, at the playhead. */
function markRange(session: Session, end: 0 | 1) {
  const { frame, length } = session.frames;
  const [first, last] = choices().range ?? [0, length - 1];
  const next: [number, number] = end === 0 ? [frame, Math.max(last, frame + 1)] : [Math.min(first, frame - 1), frame];
  if (next[0] < 0 || next[1] >= length) return;
  choose({ range: next, loopOver: "range", loop: true });
  say(`Looping over frames ${next[0]} to ${next[1]}.`);
}

function nudgeKeys(session: Session, by: number) {
  const { keys } = choices();
  if (keys.length) void moveKeys(session, keys, by);
  else say("Select keys in the lanes or a pose first; then Alt and the arrows move them in time.");
}

/** Shift + Tab walks out of the stage; Tab goes through its layers, front first. */
function cycle(session: Session, event: KeyboardEvent) {
  if (event.shiftKey) return;
  const order = [...session.frames.order].reverse();
  const next = order[order.indexOf(choices().selected[0]) + 1];
  if (next) select(next);
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

/** Where an arrow takes the anchor; with W the picture goes that way under it. */
function nudgedAnchor(session: Session, id: string, event: KeyboardEvent, key: "q" | "w") {
  const step = arrowStep(event);
  const arrays = session.frames.layer(id);
  if (!step || !arrays) return null;
  const [x, y] = anchorAt(arrays, session.frames.frame);
  const way = key === "q" ? 1 : -1;
  return { scene: [x + way * step[0], y + way * step[1]] as [number, number] };
}

function nudge(session: Session, event: KeyboardEvent) {
  const { selected } = choices();
  const by = arrowStep(event);
  if (!selected.length || !by) return;
  void session.edit({ edit: "move_layers", layers: selected, frame: session.frames.frame, by });
}

function step(session: Session, way: 1 | -1) {
  const here = session.frames.frame;
  const frames = choices().selected.flatMap((id) => {
    const layer = session.layer(id);
    return layer ? poseFrames(layer) : [];
  });
  const found = frames.filter((frame) => (way > 0 ? frame > here : frame < here));
  if (found.length) session.frames.seek(way > 0 ? Math.min(...found) : Math.max(...found));
  else
    say(
      choices().selected.length
        ? "There is no further pose in that direction."
        : "Select a layer to step through its poses.",
    );
}

function stepBeat(session: Session, way: 1 | -1) {
  const here = session.frames.frame;
  const beats = (session.answer?.scene.beats ?? []).map((beat) => beat.frame);
  const found = beats.filter((frame) => (way > 0 ? frame > here : frame < here));
  if (found.length) session.frames.seek(way > 0 ? Math.min(...found) : Math.max(...found));
  else say("There is no further beat in that direction; B sets one at the playhead.");
}

function remove(session: Session) {
  const { keys, selected } = choices();
  if (keys.length) {
    deleteKeys(session, keys);
  } else if (selected.length) {
    const names = selected.map((id) => session.layer(id)?.name).join(", ");
    void session
      .edit({ edit: "delete_layers", layers: selected })
      .then((kept) => kept && say(`Deleted ${names}.`, true));
  }
}
