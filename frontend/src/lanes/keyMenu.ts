import { copyKeys, deleteKeys, keysOf, moveKeys, pasteKeys, retimeKeys, selectKeys, spanOf } from "../keys/keys";
import { type Act, openMenu } from "../parts/FloatMenu";
import type { Session } from "../session/session";
import { setPage } from "../state/page";
import { setPlayback } from "../state/playback";
import { setSceneView } from "../state/sceneView";
import { selection } from "../state/selection";

/** What can be done with the selected keys. */
function actsOf(session: Session): Act[][] {
  const { keys } = selection();
  const [first, last] = spanOf(keys);
  const ref = keys[0];
  const retime = (way: "reverse" | "snap", at: (frame: number) => number) =>
    void retimeKeys(session, keys, { edit: "retime_keys", keys, way, about: 0, factor: 1, whole: false }, at);
  const toPlayhead = () => void moveKeys(session, keys, session.frames.frame - first);
  const loop = () => {
    setSceneView({ range: [Math.floor(first), Math.ceil(last)], loopOver: "range" });
    setPlayback({ loop: true });
  };
  return [
    [
      ["Edit values…", () => setPage({ dialog: "values" }), "E"],
      ["Ease…", () => setPage({ dialog: "easing" }), "Y"],
      ["Copy", () => copyKeys(session, keys), "Ctrl C"],
      ["Paste at the playhead", () => pasteKeys(session), "Ctrl V"],
    ],
    [
      ["Move to the playhead", toPlayhead],
      ["Reverse", () => retime("reverse", (frame) => first + last - frame)],
      ["Snap to whole frames", () => retime("snap", Math.round)],
      ["Loop over these", loop],
    ],
    [
      ["All of this property", () => selectKeys(keysOf(session, ref.layer, ref.property))],
      ["All at this moment", () => selectKeys(keysOf(session, ref.layer, undefined, ref.frame))],
    ],
    [["Delete", () => deleteKeys(session, keys), "Delete"]],
  ];
}

/** Open the menu of the selected keys at a place of the window. */
export const openKeyMenu = (session: Session, x: number, y: number) =>
  openMenu("Selected keys", actsOf(session), [x, y]);
