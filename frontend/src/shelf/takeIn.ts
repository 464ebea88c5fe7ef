import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, type Edit, need } from "../api/client";
import { layerIn } from "../document/items";
import { useSession } from "../session/session";
import { say, sayProblem, sayWith } from "../state/page";
import { selection } from "../state/selection";

const TAKEN = /\.(srt|vtt|ttml|csv|tsv|xlsx|css|otio|json|gpl|ase)$/i;

/** Whether a file is taken in as edits, or as a scene of its own: subtitles, values, keyframes, timelines, animations. */
export const isTakenIn = ({ name }: File) => TAKEN.test(name);

/** Takes such files in, each a step to undo; texts look as the selected one does, which keyframes are for. */
export function useTakeIn() {
  const session = useSession();
  const cache = useQueryClient();
  const go = useNavigate();
  return async (files: File[]) => {
    const came: string[] = [];
    const failed: string[] = [];
    let made = false;
    let scene: string | null = null;
    for (const file of files) {
      say(`Taking ${file.name} in…`);
      const body = new FormData();
      body.append("file", file);
      const { selected } = selection();
      const keyframes = /\.css$/i.test(file.name);
      const like = keyframes
        ? selected.map(layerIn)[0]
        : selected.find((id) => session.layer(id)?.content.kind === "text");
      try {
        const taken = await need(
          api.POST("/api/scenes/{scene_id}/take-in", {
            params: { path: { scene_id: session.sceneId }, query: { like, frame: session.frames.frame } },
            body: body as never,
            bodySerializer: (form) => form as never,
          }),
        );
        if (taken.edits?.length && !(await session.edit(...(taken.edits as unknown as Edit[])))) continue;
        made = !!taken.edits?.length;
        await cache.invalidateQueries({ queryKey: ["colours"] });
        scene = taken.scene ?? scene;
        if (taken.scene) await cache.invalidateQueries({ queryKey: ["projects"] });
        came.push([`${taken.said}.`, ...(taken.notes ?? [])].join(" "));
      } catch (error) {
        failed.push(`${file.name}: ${(error as Error).message}`);
      }
    }
    if (failed.length) sayProblem(new Error([...failed, ...came].join(" ")));
    else if (scene) sayWith(came.join(" "), { button: "Open it", run: () => void go(`/scene/${scene}`) });
    else if (came.length) say(came.join(" "), files.length === 1 && made);
  };
}
