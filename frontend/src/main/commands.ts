import { duplicate } from "../acts/duplicate";
import { editText, isText } from "../acts/editText";
import { enter } from "../acts/goInto";
import { splitLayers } from "../acts/splitLayers";
import { fit, zoomBy, zoomToSelection } from "../acts/zoom";
import { insideOf, layerIn } from "../document/items";
import type { Command } from "../find/command";
import { copy } from "../keys/copyPaste";
import { openMenu } from "../parts/FloatMenu";
import { toRegion } from "../parts/focus";
import { cancelPress, pressing } from "../parts/press";
import { keyPose } from "../poses/AddPose";
import { again } from "../poses/entrances";
import { endDrawing, startDrawing } from "../session/drawnPath";
import type { Session } from "../session/session";
import { DRAWN, DRAWN_WORDS, drawNext } from "../state/drawing";
import { habits, setHabits } from "../state/habits";
import { setLooking } from "../state/looking";
import { type Dialog, type Drawer, meantForDialog, page, say, setPage } from "../state/page";
import { playback, setPlayback } from "../state/playback";
import { sceneView, setSceneView } from "../state/sceneView";
import { select, selection } from "../state/selection";
import { setTools, tools } from "../state/tools";
import { setViewport } from "../state/viewport";
import { setViewSettings, type ViewSettings, viewSettings } from "../state/viewSettings";
import { around, cycle, markRange, nudgeKeys, remove, rename, step, stepBeat, stepEdge, tapBeat } from "./acts";

const needsLayer = () => (selection().selected.length ? "" : "Select a layer first.");
const needsOne = () => (selection().selected.length === 1 ? "" : "Select one layer first.");
const needsKeys = () => (selection().keys.length ? "" : "Select keys first, in the lanes or a pose.");
const needsAny = () => (selection().keys.length ? "" : needsLayer());

const speed = (factor: number) => () => setPlayback({ speed: factor });
const seek = (by: number) => (session: Session) => session.frames.seek(session.frames.frame + by);
const dialog = (name: Dialog) => () => setPage({ dialog: name });
const drawer = (name: Drawer) => () => setPage({ drawer: name });

function edit(session: Session) {
  const { selected, drawing } = selection();
  if (drawing) return void endDrawing(session);
  if (selected.length !== 1) return;
  if (isText(session, selected[0])) editText(session, selected[0]);
  else enter(session, selected[0]);
}

function solo(session: Session) {
  const now = sceneView().solo;
  // A shape is painted with the layer it lies in.
  const layers = [...new Set(selection().selected.map(layerIn))];
  setSceneView({ solo: now.length ? [] : layers });
  session.frames.notify();
}

/** What the next drag draws, chosen beside the stage's corner. */
function drawMenu() {
  const stage = document.querySelector("[data-testid=stage]")!.getBoundingClientRect();
  openMenu(
    "Draw on the stage",
    DRAWN.map((what): [string, () => void] => [DRAWN_WORDS[what], () => drawNext(what)]),
    [stage.left + 26, stage.top + 26],
  );
}

/** The other face of the pose strip; the table of keys gets the keyboard. */
function keyFace() {
  const numbers = habits().poseFace === "cards";
  setHabits({ poseFace: numbers ? "numbers" : "cards" });
  if (numbers) requestAnimationFrame(() => document.querySelector<HTMLElement>("[data-testid=key-table]")?.focus());
}

function magnet() {
  setTools({ magnet: !tools().magnet });
  say(`The magnet is ${tools().magnet ? "on" : "off"}.`);
}

const OVERLAYS: [keyof ViewSettings, string, string][] = [
  ["mark", "anchor's mark", "pivot"],
  ["path", "motion path", "trajectory"],
  ["speed", "speed as thickness", ""],
  ["ghosts", "ghosts of the poses beside", "onion skin"],
  ["safe", "title-safe and action-safe", "margins area"],
  ["thirds", "thirds", "composition"],
  ["centre", "centre lines", "middle cross"],
  ["grid", "pixel grid", ""],
  ["outlines", "outlines only", "wireframe"],
  ["rulers", "rulers and guides", "lines"],
  ["pointer", "colour under the pointer", "hex"],
  ["scopes", "waveform and histogram", "exposure levels"],
];

/** Every command of the main view: those with keys are heard by them, and all are found by their names. */
export const COMMANDS: Command[] = [
  {
    name: "Find anything",
    hotkey: "mod+k",
    keys: "Ctrl K",
    run: dialog("find"),
    words: "search command",
    everywhere: true,
  },
  {
    name: "Go to a time, a beat or a layer",
    hotkey: "g",
    keys: "G",
    run: () => setPage({ dialog: "find", typed: "@" }),
    words: "playhead jump frame seek",
  },
  {
    name: "Play or pause",
    keys: "Space",
    run: () => setPlayback({ playing: !playback().playing }),
    words: "start stop",
  },
  { name: "One frame on", keys: ".", run: seek(1), words: "next forward" },
  { name: "One frame back", keys: ",", run: seek(-1), words: "previous" },
  { name: "Ten frames on", keys: "Shift .", run: seek(10), words: "next forward" },
  { name: "Ten frames back", keys: "Shift ,", run: seek(-10), words: "previous" },
  { name: "Next pose", keys: "]", run: (session) => step(session, 1), words: "key", not: needsLayer },
  { name: "Previous pose", keys: "[", run: (session) => step(session, -1), words: "key", not: needsLayer },
  { name: "Next beat", keys: "}", run: (session) => stepBeat(session, 1), words: "marker" },
  { name: "Previous beat", keys: "{", run: (session) => stepBeat(session, -1), words: "marker" },
  {
    name: "Next edge",
    keys: "Alt .",
    run: (session) => stepEdge(session, 1),
    words: "cut start end of a span",
  },
  {
    name: "Previous edge",
    keys: "Alt ,",
    run: (session) => stepEdge(session, -1),
    words: "cut start end of a span",
  },
  { name: "First frame", hotkey: "home", keys: "Home", run: ({ frames }) => frames.seek(0), words: "start beginning" },
  { name: "Last frame", hotkey: "end", keys: "End", run: ({ frames }) => frames.seek(frames.length - 1) },
  {
    name: "Loop on or off",
    hotkey: "l",
    keys: "L",
    run: () => setPlayback({ loop: !playback().loop }),
    words: "repeat",
  },
  { name: "Start of the looped range here", hotkey: "shift+home", keys: "Shift Home", run: (s) => markRange(s, 0) },
  { name: "End of the looped range here", hotkey: "shift+end", keys: "Shift End", run: (s) => markRange(s, 1) },
  { name: "Play at full speed", keys: "1", run: speed(1) },
  { name: "Play at half speed", keys: "2", run: speed(0.5), words: "slow" },
  { name: "Play at quarter speed", keys: "3", run: speed(0.25), words: "slow" },
  { name: "Beat at the playhead", hotkey: "b", keys: "B", run: tapBeat, words: "marker add" },
  {
    // What the pointer holds is given back first; the step before it stays.
    name: "Undo",
    hotkey: "mod+z",
    keys: "Ctrl Z",
    run: (session) => (pressing() ? cancelPress() : void session.undo()),
    repeats: true,
    always: true,
    words: "back",
  },
  {
    name: "Redo",
    hotkey: "mod+shift+z, mod+y",
    keys: "Ctrl Shift Z",
    run: (session) => pressing() || void session.redo(),
    repeats: true,
    always: true,
    words: "again",
  },
  {
    name: "Duplicate the selected layers",
    hotkey: "mod+d",
    keys: "Ctrl D",
    run: (session) => void duplicate(session, selection().selected),
    not: needsLayer,
  },
  {
    name: "Select every layer",
    hotkey: "mod+a",
    keys: "Ctrl A",
    run: (session) => select(...around(session).filter((id) => !session.layer(id)?.locked)),
    words: "all",
  },
  { name: "Select nothing", keys: "Esc", run: () => select() },
  { name: "Select the next layer", hotkey: "n", keys: "N", run: (session) => cycle(session, 1), repeats: true },
  {
    name: "Select the layer before",
    hotkey: "shift+n",
    keys: "Shift N",
    run: (session) => cycle(session, -1),
    repeats: true,
    words: "previous",
  },
  {
    name: "Draw a path",
    hotkey: "p",
    keys: "P",
    run: () => startDrawing(insideOf(selection().selected)),
    words: "pen curve",
  },
  { name: "Magnet on or off", hotkey: "m", keys: "M", run: magnet, words: "snap" },
  {
    name: "Picture over the whole window",
    hotkey: "f",
    keys: "F",
    run: () => setPage({ full: !page().full }),
    words: "full screen",
  },
  { name: "Zoom to fit the scene", hotkey: "0", keys: "0", run: fit, words: "whole" },
  { name: "Zoom to 100 %", hotkey: "9", keys: "9", run: () => setViewport({ zoom: 1 }), words: "actual size" },
  { name: "Zoom to the selection", hotkey: "z", keys: "Z", run: zoomToSelection, not: needsLayer },
  { name: "Zoom in", keys: "+", run: () => zoomBy(1.25), words: "closer larger" },
  { name: "Zoom out", keys: "−", run: () => zoomBy(1 / 1.25), words: "smaller" },
  {
    name: "Edit the text, go into the layer",
    hotkey: "enter",
    keys: "Enter",
    run: (session, event) => (event && meantForDialog(event)) || edit(session),
    words: "open points",
    not: needsOne,
  },
  { name: "Rename the selected layer", hotkey: "f2", keys: "F2", run: rename, words: "name", not: needsOne },
  { name: "Next part of the page", hotkey: "f6", keys: "F6", run: () => toRegion(1), everywhere: true },
  { name: "Part of the page before", hotkey: "shift+f6", keys: "Shift F6", run: () => toRegion(-1), everywhere: true },
  { name: "Copy", hotkey: "mod+c", keys: "Ctrl C", run: copy, not: needsAny },
  {
    name: "Edit the values of the selected keys",
    hotkey: "e",
    keys: "E",
    run: () => selection().keys.length && setPage({ dialog: "values" }),
    not: needsKeys,
  },
  {
    name: "Easing of the selected keys",
    hotkey: "y",
    keys: "Y",
    run: () => selection().keys.length && setPage({ dialog: "easing" }),
    not: needsKeys,
  },
  { name: "Solo the selected layers", hotkey: "s", keys: "S", run: solo, words: "alone only" },
  {
    name: "Move the selected keys a frame back",
    hotkey: "alt+arrowleft",
    keys: "Alt ←",
    run: (session) => nudgeKeys(session, -1),
    repeats: true,
    words: "earlier",
    not: needsKeys,
  },
  {
    name: "Move the selected keys a frame on",
    hotkey: "alt+arrowright",
    keys: "Alt →",
    run: (session) => nudgeKeys(session, 1),
    repeats: true,
    words: "later",
    not: needsKeys,
  },
  {
    name: "Move the selected keys ten frames back",
    hotkey: "alt+shift+arrowleft",
    keys: "Alt Shift ←",
    run: (session) => nudgeKeys(session, -10),
    repeats: true,
    words: "earlier",
    not: needsKeys,
  },
  {
    name: "Move the selected keys ten frames on",
    hotkey: "alt+shift+arrowright",
    keys: "Alt Shift →",
    run: (session) => nudgeKeys(session, 10),
    repeats: true,
    words: "later",
    not: needsKeys,
  },
  {
    name: "Split the selected layers at the playhead",
    hotkey: "x",
    keys: "X",
    run: (session) => {
      const { selected } = selection();
      if (selected.length) void splitLayers(session, selected, session.frames.frame);
    },
    words: "blade",
    not: needsLayer,
  },
  { name: "Delete", hotkey: "delete, backspace", keys: "Delete", run: remove, not: needsAny },
  { name: "Key the pose here", hotkey: "k", keys: "K", run: (session) => keyPose(session), not: needsLayer },
  {
    name: "Bring in as last time",
    hotkey: "i",
    keys: "I",
    run: (session) => again(session, "in"),
    words: "entrance appear animate fade",
    not: needsLayer,
  },
  {
    name: "Take out as last time",
    hotkey: "o",
    keys: "O",
    run: (session) => again(session, "out"),
    words: "exit disappear animate fade",
    not: needsLayer,
  },
  {
    name: "Keys as numbers or as cards",
    hotkey: "t",
    keys: "T",
    run: keyFace,
    words: "table spreadsheet values poses",
    not: needsOne,
  },
  { name: "Export…", run: dialog("export") },
  { name: "History of this scene…", run: dialog("history"), words: "steps undo versions" },
  { name: "Keys and gestures…", keys: "?", run: dialog("keys"), words: "help shortcuts keyboard" },
  { name: "Titles from a table…", run: dialog("titles"), words: "names csv spreadsheet batch rows" },
  { name: "Put into a scene of its own…", run: dialog("nest"), words: "nest group", not: needsLayer },
  { name: "Draw on the stage…", hotkey: "d", keys: "D", run: drawMenu, words: "shape tool" },
  ...DRAWN.map((what) => ({
    name: `Draw ${what === "ellipse" || what === "arrow" ? "an" : "a"} ${DRAWN_WORDS[what].toLowerCase()}`,
    run: () => drawNext(what),
    words: "shape tool stage drag",
    not: what === "mask" ? needsOne : undefined,
  })),
  { name: "Add a layer…", run: drawer("add"), words: "new shape text" },
  { name: "Recipes…", run: drawer("recipes"), words: "ready-made motion presets" },
  { name: "Effects…", run: drawer("effects"), words: "looks filters" },
  { name: "Media of the project…", run: drawer("media"), words: "pictures clips sounds files import" },
  { name: "Slots of this scene…", run: drawer("slots"), words: "form fill template" },
  { name: "Measure between two points", run: () => setLooking({ measure: true, pick: null }), words: "distance angle" },
  {
    name: "Compare this moment with another",
    run: (session) => setSceneView({ compare: { moment: session.frames.frame } }),
    words: "side by side before after",
  },
  ...OVERLAYS.map(
    ([name, shown, words]): Command => ({
      name: `Show or hide: ${shown}`,
      words: `guides overlay ${words}`,
      run: () => setViewSettings({ [name]: !viewSettings()[name] }),
    }),
  ),
];
