import { duplicate } from "../acts/duplicate";
import { splitLayers } from "../acts/splitLayers";
import { takeApart } from "../acts/takeApart";
import type { Layer } from "../api/client";
import { showsScene } from "../document/contents";
import type { Act } from "../parts/FloatMenu";
import type { Session } from "../session/session";
import { goIntoScene } from "../session/trail";
import { setPage } from "../state/page";
import { setSceneView } from "../state/sceneView";
import { select, selection, setSelection } from "../state/selection";
import { copyLayers, paste as pasteCopied } from "./copyPaste";
import { pasteKeys } from "./keys";

/** What can be done with a layer as a whole: with the layer, with its time, with what is in it, and its end. */
export function layerActs(session: Session, layer: Layer): Act[][] {
  const id = layer.id!;
  const place = (session.answer?.scene.layers ?? []).findIndex((one) => one.id === id);
  const trim = (start: number, end: number) =>
    void session.edit({ edit: "trim_span", layer: id, start, length: end - start });
  const { start, length } = layer.span;
  const isSolo = (solo: string[]) => solo.includes(id);
  const lock = () => void session.edit({ edit: "set_locked", layers: [id], locked: !layer.locked });
  const solo = () =>
    setSceneView(({ solo }) => ({ solo: isSolo(solo) ? solo.filter((one) => one !== id) : [...solo, id] }));
  const putIntoScene = () => {
    if (!selection().selected.includes(id)) select(id);
    setPage({ dialog: "nest" });
  };
  const paste = () => {
    select(id);
    pasteKeys(session);
  };
  const inside: Act[] = [
    ["Go in", () => goIntoScene(session, layer), "Enter"],
    ["Take apart", () => void takeApart(session, layer)],
  ];
  return [
    [
      ["Rename", () => setSelection({ renaming: id }), "F2"],
      ["Duplicate", () => void duplicate(session, [id]), "Ctrl D"],
      ["Copy", () => copyLayers(session, selection().selected.includes(id) ? selection().selected : [id]), "Ctrl C"],
      ["Paste", () => void pasteCopied(session), "Ctrl V"],
      ["Bring forward", () => void session.edit({ edit: "reorder_layer", layer: id, to: place + 1 })],
      ["Send back", () => void session.edit({ edit: "reorder_layer", layer: id, to: place - 1 })],
      [layer.locked ? "Unlock" : "Lock", lock],
      ["Solo", solo, "S"],
    ],
    [
      ["Start at the playhead", () => trim(session.frames.frame, start + length)],
      ["End at the playhead", () => trim(start, session.frames.frame + 1)],
      ["Split at the playhead", () => void splitLayers(session, [id], session.frames.frame), "X"],
      ["Paste keys here", paste],
    ],
    [...(showsScene(layer.content) ? inside : []), ["Put into a scene of its own…", putIntoScene]],
    [["Delete", () => void session.edit({ edit: "delete_layers", layers: [id] }), "Delete"]],
  ];
}
