import { useEffect, useRef } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Edit } from "../api/client";
import { keyState } from "../panel/keying";
import { STATIONS } from "../stage/view";
import { choices, choose, say, sayProblem, select } from "./choices";
import { poseFrames, tracksOf } from "./document";
import type { Session } from "./session";

/** Every key and gesture, as the list behind `?` tells them. */
export const KEYS: [string, string][] = [
  ["Space", "Play or pause"],
  [", and .", "One frame back, one frame on (Shift: ten)"],
  ["[ and ]", "Previous and next pose of the selected layer"],
  ["Home, End", "First and last frame"],
  ["1, 2, 3", "Full, half and quarter speed"],
  ["L", "Loop"],
  ["K", "Key the pose: every keyed property of the selected layers, here"],
  ["Arrows", "Nudge the selected layers by 1 px (Shift: 10)"],
  ["Tab on the stage", "Select the next layer"],
  ["Q held, drag", "Move the anchor, the picture stays put"],
  ["W held, drag", "Slide the picture under its anchor, which stays put"],
  ["Q + digit of the number pad", "The anchor to the station in that place"],
  ["Ctrl/Cmd while dragging", "Let go of the magnet"],
  ["Shift while dragging", "One axis only"],
  ["Esc", "Give a gesture back; then: select nothing"],
  ["Delete", "Delete the selected keys, else the selected layers"],
  ["Ctrl/Cmd D", "Duplicate the selected layers"],
  ["Ctrl/Cmd Z, Ctrl/Cmd Shift Z", "Undo, redo"],
  ["In a number", "Drag to scrub; type a sum; ↑ ↓ step (Shift ×10, Alt ×0.1); Enter takes; Esc gives back"],
  ["Ctrl/Cmd wheel", "Zoom to the pointer; the wheel alone pans"],
];

const PAD = Object.keys(STATIONS);
const NUMPAD: Record<string, string> = Object.fromEntries(
  [7, 8, 9, 4, 5, 6, 1, 2, 3].map((digit, i) => [`Numpad${digit}`, PAD[i]]),
);

/** The whole of the main view by keyboard. */
export function useKeyboard(session: Session) {
  const { frames } = session;
  const on = (keys: string, act: (event: KeyboardEvent) => void) =>
    // biome-ignore lint/correctness/useHookAtTopLevel: always called in the same order
    useHotkeys(keys, act, { preventDefault: true, useKey: true }, [session]);

  on("l", () => choose({ loop: !choices().loop }));
  on("home", () => frames.seek(0));
  on("end", () => frames.seek(frames.length - 1));
  on("mod+z", () => void session.undo());
  on("mod+shift+z, mod+y", () => void session.redo());
  on("mod+d", () => {
    const { selected } = choices();
    if (selected.length) void session.edit({ edit: "duplicate_layers", layers: selected });
  });
  on("delete, backspace", () => remove(session));
  on("k", () => keyPose(session));

  const q = useRef(false);
  useEffect(() => {
    const typing = (event: KeyboardEvent) =>
      event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
    const down = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || choices().dialog) return;
      if (event.key === " " && (event.target as HTMLElement).matches("button:focus-visible, a:focus-visible")) return;
      if (event.key === " ") choose({ playing: !choices().playing });
      else if (event.key === "?") choose({ dialog: "keys" });
      else if (event.key === "," || event.key === "<") frames.seek(frames.frame - (event.shiftKey ? 10 : 1));
      else if (event.key === "." || event.key === ">") frames.seek(frames.frame + (event.shiftKey ? 10 : 1));
      else if (event.key === "[" || event.key === "]") step(session, event.key === "]" ? 1 : -1);
      else if (["1", "2", "3"].includes(event.key) && event.code.startsWith("Digit"))
        choose({ speed: [1, 0.5, 0.25][Number(event.key) - 1] });
      else if (
        event.key.startsWith("Arrow") &&
        !(event.target as HTMLElement).closest("[role=radiogroup], [role=menu]")
      )
        nudge(session, event);
      else if (event.key === "Tab" && document.activeElement?.getAttribute("data-testid") === "stage")
        cycle(session, event);
      else if (event.key === "Escape") select();
      else return;
      event.preventDefault();
    };
    const up = (event: KeyboardEvent) => {
      if (event.code === "KeyQ") q.current = false;
    };
    // Before all else, since the number pad's keys mean Home and the arrows as well.
    const stations = (event: KeyboardEvent) => {
      if (typing(event)) return;
      if (event.code === "KeyQ") q.current = true;
      const station = q.current ? NUMPAD[event.code] : undefined;
      const { selected } = choices();
      if (!station || selected.length !== 1) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      const place = { layer: selected[0], frame: frames.frame, to: { station } };
      void session.edit({ edit: "move_anchor", keep: "picture", scope: choices().scope, ...place });
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

/** Shift + Tab walks out of the stage; Tab goes through its layers, front first. */
function cycle(session: Session, event: KeyboardEvent) {
  if (event.shiftKey) return;
  const order = [...session.frames.order].reverse();
  const next = order[order.indexOf(choices().selected[0]) + 1];
  if (next) select(next);
}

function nudge(session: Session, event: KeyboardEvent) {
  const { selected } = choices();
  if (!selected.length) return;
  const far = event.shiftKey ? 10 : 1;
  const by: [number, number] = [
    event.key === "ArrowLeft" ? -far : event.key === "ArrowRight" ? far : 0,
    event.key === "ArrowUp" ? -far : event.key === "ArrowDown" ? far : 0,
  ];
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

function remove(session: Session) {
  const { keys, selected } = choices();
  if (keys.length) {
    void session
      .edit({ edit: "delete_keys", keys })
      .then((kept) => kept && say(`Deleted ${keys.length === 1 ? "1 key" : `${keys.length} keys`}.`, true));
    choose({ keys: [] });
  } else if (selected.length) {
    const names = selected.map((id) => session.layer(id)?.name).join(", ");
    void session
      .edit({ edit: "delete_layers", layers: selected })
      .then((kept) => kept && say(`Deleted ${names}.`, true));
  }
}

function keyPose(session: Session) {
  const { frame } = session.frames;
  const edits: Edit[] = choices().selected.flatMap((id) => {
    const layer = session.layer(id);
    if (!layer) return [];
    return Object.entries(tracksOf(layer))
      .filter(([, track]) => keyState(layer, track, frame) === "between")
      .map(([property]) => ({ edit: "start_keying" as const, layer: id, property, frame }));
  });
  if (edits.length) void session.edit(...edits);
  else
    sayProblem(
      new Error("Nothing to key here: select a layer with a keyed property that has no key at this frame yet."),
    );
}
