import { useQueryClient } from "@tanstack/react-query";
import { api, type Edit, need } from "../api/client";
import { useSession } from "../session/session";
import { say, sayProblem } from "../state/page";
import { selection } from "../state/selection";

const TAKEN = /\.(srt|vtt|ttml|csv|tsv|xlsx|otio|gpl|ase)$/i;

/** Whether a file is taken in as edits, or as a scene of its own: subtitles, tables of values, timelines. */
export const isTakenIn = ({ name }: File) => TAKEN.test(name);

/** Takes such files in, each a step to undo; texts look as the selected one does. */
export function useTakeIn() {
  const session = useSession();
  const cache = useQueryClient();
  return async (files: File[]) => {
    const came: string[] = [];
    const failed: string[] = [];
    let made = false;
    for (const file of files) {
      say(`Taking ${file.name} in…`);
      const body = new FormData();
      body.append("file", file);
      const like = selection().selected.find((id) => session.layer(id)?.content.kind === "text");
      try {
        const taken = await need(
          api.POST("/api/scenes/{scene_id}/take-in", {
            params: { path: { scene_id: session.sceneId }, query: { like } },
            body: body as never,
            bodySerializer: (form) => form as never,
          }),
        );
        if (taken.edits?.length && !(await session.edit(...(taken.edits as unknown as Edit[])))) continue;
        made = !!taken.edits?.length;
        await cache.invalidateQueries({ queryKey: ["colours"] });
        if (taken.scene) await cache.invalidateQueries({ queryKey: ["projects"] });
        came.push([`${taken.said}.`, ...(taken.notes ?? [])].join(" "));
      } catch (error) {
        failed.push(`${file.name}: ${(error as Error).message}`);
      }
    }
    if (failed.length) sayProblem(new Error([...failed, ...came].join(" ")));
    else if (came.length) say(came.join(" "), files.length === 1 && made);
  };
}
