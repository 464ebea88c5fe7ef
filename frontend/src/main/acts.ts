import { goOut } from "../acts/goInto";
import { insideOf, isItem, outOf, within } from "../document/items";
import { poseFrames } from "../document/tracks";
import { deleteKeys, moveKeys } from "../keys/keys";
import { toStage } from "../parts/focus";
import { endDrawing } from "../session/drawnPath";
import type { Session } from "../session/session";
import { drawNext, drawing as nextDrawn } from "../state/drawing";
import { lookNoMore } from "../state/looking";
import { page, say, setPage } from "../state/page";
import { setPlayback } from "../state/playback";
import { sceneView, setSceneView } from "../state/sceneView";
import { select, selection, setSelection } from "../state/selection";

/** Esc leaves the innermost thing: a path that is drawn, a drawer, then the layer; the stage has the keyboard then. */
export function leaveInnermost(session: Session) {
  const { drawing, selected } = selection();
  if (lookNoMore()) return;
  if (drawing) void endDrawing(session);
  else if (nextDrawn().draws) drawNext(null);
  else if (page().drawer) {
    setPage({ drawer: null });
    toStage(null);
  } else if (sceneView().compare) setSceneView({ compare: null });
  else if (page().full && !selected.length) setPage({ full: false });
  else goOut(selected);
}

/** Type the selected layer's name in the lanes. */
export function rename() {
  const { selected } = selection();
  if (selected.length === 1) setSelection({ renaming: selected[0] });
  else say("Select one layer to rename it.");
}

/** A beat at the playhead, also while playing. */
export function tapBeat(session: Session) {
  void session.edit({ edit: "add_beats", frames: [session.frames.frame], label: "" });
}

/** The start (0) or end (1) of the range that is looped, at the playhead. */
export function markRange(session: Session, end: 0 | 1) {
  const { frame, length } = session.frames;
  const [first, last] = sceneView().range ?? [0, length - 1];
  const next: [number, number] = end === 0 ? [frame, Math.max(last, frame + 1)] : [Math.min(first, frame - 1), frame];
  if (next[0] < 0 || next[1] >= length) return;
  setSceneView({ range: next, loopOver: "range" });
  setPlayback({ loop: true });
  say(`Looping over frames ${next[0]} to ${next[1]}.`);
}

export function nudgeKeys(session: Session, by: number) {
  const { keys } = selection();
  if (keys.length) void moveKeys(session, keys, by);
  else say("Select keys in the lanes or a pose first; then Alt and the arrows move them in time.");
}

/** The layers, front first; the shapes beside the selected one while that lies in a layer. */
export function around(session: Session): string[] {
  const parent = session.layer(insideOf(selection().selected));
  return parent ? within(parent) : [...session.frames.order].reverse();
}

/** Select the next layer or shape, front first, or the one before; round and round. */
export function cycle(session: Session, way: 1 | -1) {
  const order = around(session);
  if (!order.length) return;
  const here = order.indexOf(selection().selected.at(-1) ?? "");
  const first = way > 0 ? 0 : order.length - 1;
  select(order[here < 0 ? first : (here + way + order.length) % order.length]);
}

/** The step of an arrow key in pixels: 1, or 10 with Shift. */
export function arrowStep(event: KeyboardEvent): [number, number] | null {
  const far = event.shiftKey ? 10 : 1;
  const steps: Record<string, [number, number]> = {
    ArrowLeft: [-far, 0],
    ArrowRight: [far, 0],
    ArrowUp: [0, -far],
    ArrowDown: [0, far],
  };
  return steps[event.key] ?? null;
}

export function nudge(session: Session, event: KeyboardEvent) {
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

export function step(session: Session, way: 1 | -1) {
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

/** The playhead to a pose of the selected layers by its number, as its card shows it. */
export function toPose(session: Session, number: number) {
  const layers = selection().selected.flatMap((id) => session.layer(id) ?? []);
  const frames = [...new Set(layers.flatMap((layer) => poseFrames(layer)))].sort((a, b) => a - b);
  if (frames.length >= number) session.frames.seek(Math.round(frames[number - 1]));
  else if (!layers.length) say("Select a layer to go to one of its poses.");
  else
    say(
      `There is no pose ${number}: ${layers.length > 1 ? "these layers have" : "this layer has"} ${frames.length || "none"}.`,
    );
}

/** The playhead to where the span of a layer begins or ends next, or a cut is; of the selected layers where there are. */
export function stepEdge(session: Session, way: 1 | -1) {
  const here = session.frames.frame;
  const chosen = selection().selected.flatMap((id) => session.layer(id) ?? []);
  const layers = chosen.length ? chosen : (session.answer?.scene.layers ?? []);
  const edges = layers.flatMap(({ span: { start, length } }) => [start, start + length - 1, start + length]);
  const found = edges.filter(
    (frame) => frame >= 0 && frame < session.frames.length && (way > 0 ? frame > here : frame < here),
  );
  if (found.length) session.frames.seek(way > 0 ? Math.min(...found) : Math.max(...found));
  else say("No layer begins or ends any further in that direction.");
}

export function stepBeat(session: Session, way: 1 | -1) {
  const here = session.frames.frame;
  const beats = (session.answer?.scene.beats ?? []).map((beat) => Math.round(beat.frame));
  const found = beats.filter((frame) => (way > 0 ? frame > here : frame < here));
  if (found.length) session.frames.seek(way > 0 ? Math.min(...found) : Math.max(...found));
  else say("There is no further beat in that direction; B sets one at the playhead.");
}

export function remove(session: Session) {
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
