import { useQueryClient } from "@tanstack/react-query";
import { api, type Edit, need } from "../api/client";
import { choose, say, sayProblem, select } from "../scene/choices";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";

/** Takes picture files into the project and adds a layer for each; a refused file says why. */
export function useAddPicture() {
  const session = useSession();
  const cache = useQueryClient();
  const { project } = useScene();
  return async (files: File[], at?: [number, number]) => {
    choose({ drawer: null });
    for (const file of files) {
      const body = new FormData();
      body.append("file", file);
      say(`Taking ${file.name} in…`);
      try {
        const picture = await need(
          api.POST("/api/projects/{project_id}/pictures", {
            params: { path: { project_id: project } },
            body: body as never,
            bodySerializer: (form) => form as never,
          }),
        );
        void cache.invalidateQueries({ queryKey: ["pictures", project] });
        const id = crypto.randomUUID().replaceAll("-", "").slice(0, 12);
        const edit = {
          edit: "add_layer",
          id,
          content: { kind: "picture", asset: picture.id },
          name: file.name.replace(/\.\w+$/, ""),
          position: at,
        } as Edit;
        if (await session.edit(edit)) {
          select(id);
          say(`Added ${file.name}, ${picture.width} × ${picture.height} px.`, true);
        }
      } catch (error) {
        const told = error as { where?: string; message: string };
        sayProblem(new Error(`${file.name}: ${told.message}`));
      }
    }
  };
}
