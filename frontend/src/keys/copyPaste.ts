import { api, type Edit, type Layer, need } from "../api/client";
import type { Session } from "../session/session";
import { lastCopied, putCopied } from "../state/copied";
import { say, sayProblem } from "../state/page";
import { select, selection } from "../state/selection";
import { copyKeys, pasteKeys } from "./keys";

/** Copy what is selected: keys, or else layers, for this scene and any other, in other windows too. */
export function copy(session: Session) {
  const { keys, selected } = selection();
  if (keys.length || !selected.length) copyKeys(session, keys);
  else void copyLayers(session, selected);
}

/** Copy layers as they are; of shapes within a layer, a layer of those alone. */
export async function copyLayers(session: Session, ids: string[]) {
  const answer = session.answer;
  if (!answer) return;
  try {
    const layers = (
      ids.some((id) => id.includes("/"))
        ? await need(
            api.POST("/api/scenes/{scene_id}/copied", {
              params: { path: { scene_id: session.sceneId } },
              body: { layers: ids },
            }),
          )
        : answer.scene.layers.filter(({ id }) => ids.includes(id!))
    ) as Layer[];
    const { name, frame_rate } = answer.scene;
    putCopied({ kind: "layers", project: answer.project, name, rate: frame_rate as [number, number], layers });
    const what = ids.length === 1 && layers.length === 1 ? layers[0].name : counted(ids);
    say(`Copied ${what}. Paste with Ctrl V, in any scene.`);
  } catch (error) {
    sayProblem(error);
  }
}

const counted = (ids: string[]) => `${ids.length} ${ids.some((id) => id.includes("/")) ? "shapes" : "layers"}`;

/** Put down what was copied last: keys at the playhead, layers in front. */
export async function paste(session: Session) {
  const copied = lastCopied();
  if (copied?.kind !== "layers") {
    pasteKeys(session);
    return;
  }
  const before = new Set(session.answer?.scene.layers.map(({ id }) => id));
  try {
    const { edits } = await need(
      api.POST("/api/scenes/{scene_id}/bring-layers", {
        params: { path: { scene_id: session.sceneId } },
        body: { project: copied.project, name: copied.name, frame_rate: copied.rate, layers: copied.layers } as never,
      }),
    );
    if (copied.project !== session.answer?.project) session.renewMedia();
    if (!edits?.length || !(await session.edit(...(edits as unknown as Edit[])))) return;
    select(...(session.answer?.scene.layers ?? []).flatMap(({ id }) => (before.has(id) ? [] : [id!])));
  } catch (error) {
    sayProblem(error);
  }
}
