import { useQueryClient } from "@tanstack/react-query";
import { api, need } from "../api/client";
import { useScene } from "../session/useScene";
import { say, sayProblem } from "../state/page";

/** Whether a file is a font, by its kind or its name. */
export const isFont = ({ name, type }: File) => /^(font|application\/(x-)?font)/.test(type) || FONTS.test(name);
const FONTS = /\.(ttf|otf|ttc|otc|woff2?)$/i;

/** Takes fonts into the project; texts in those fonts are laid out again. */
export function useAddFonts() {
  const cache = useQueryClient();
  const { project } = useScene();
  return async (files: File[]) => {
    const came: string[] = [];
    const failed: string[] = [];
    const kept: string[] = [];
    for (const file of files) {
      say(`Taking ${file.name} in…`);
      try {
        const body = new FormData();
        body.append("file", file);
        const faces = await need(
          api.POST("/api/projects/{project_id}/fonts", {
            params: { path: { project_id: project } },
            body: body as never,
            bodySerializer: (form) => form as never,
          }),
        );
        came.push(...faces.map(({ family }) => family));
        kept.push(...faces.filter(({ embeds }) => !embeds).map(({ family }) => family));
      } catch (error) {
        failed.push(`${file.name}: ${(error as Error).message}`);
      }
    }
    await cache.invalidateQueries({ queryKey: ["fonts", project] });
    const names = [...new Set(came)].join(", ");
    const bound = kept.length
      ? ` The licence bits of ${[...new Set(kept)].join(", ")} allow no embedding: it is painted here, and not given out.`
      : "";
    const done = names && `Added the font ${names}: choose it in a text.${bound}`;
    if (failed.length) sayProblem(new Error([...failed, done].filter(Boolean).join(" ")));
    else if (done) say(done);
  };
}
