import { useQueryClient } from "@tanstack/react-query";
import { api, type Edit, need } from "../api/client";
import { freshId } from "../api/token";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { say, sayProblem, setPage } from "../state/page";
import { select } from "../state/selection";
import { isClip, useAddClips } from "./clips";
import { isFont, useAddFonts } from "./fonts";
import { inPlaceWords, putInPlace } from "./missing";
import { numbered } from "./numbered";
import { isTakenIn, useTakeIn } from "./takeIn";

const isArt = ({ name, type }: File) => type === "image/svg+xml" || /\.(svg|pdf)$/i.test(name);

/**
 * Takes files in: of SVG files and PDF it is asked how; films become clips; fonts can be chosen from then on; subtitles, tables
 * and timelines become edits or a scene; pictures go into the project and become a layer each, and one line says which
 * came in, which did not, and why.
 */
export function useAddFiles() {
  const addPictures = useAddPictures();
  const addClips = useAddClips();
  const addFonts = useAddFonts();
  const takeIn = useTakeIn();
  return async (files: File[], at?: [number, number]) => {
    const art = files.filter(isArt);
    const fonts = files.filter(isFont);
    const taken = files.filter(isTakenIn);
    const plain = files.filter((file) => !isArt(file) && !isFont(file) && !isTakenIn(file));
    const moving = await Promise.all(plain.map(isClip));
    const clips = plain.filter((_, index) => moving[index]);
    const pictures = plain.filter((file) => !clips.includes(file));
    if (taken.length) await takeIn(taken);
    if (fonts.length) await addFonts(fonts);
    if (clips.length) await addClips(clips, at);
    const row = numbered(pictures);
    if (row.length) setPage({ drawer: null, dialog: "numbered", numbered: row });
    const rest = pictures.filter((file) => !row.includes(file));
    if (rest.length) await addPictures(rest, at);
    if (art.length) setPage({ drawer: null, dialog: "art", art });
  };
}

/** Takes pictures into the project, each as a layer. */
export function useAddPictures() {
  const session = useSession();
  const cache = useQueryClient();
  const { project } = useScene();

  const take = async (file: File, at?: [number, number]): Promise<string> => {
    const body = new FormData();
    body.append("file", file);
    const picture = await need(
      api.POST("/api/projects/{project_id}/pictures", {
        params: { path: { project_id: project } },
        body: body as never,
        bodySerializer: (form) => form as never,
      }),
    );
    void cache.invalidateQueries({ queryKey: ["pictures", project] });
    const content = { kind: "picture", asset: picture.id };
    const stood = await putInPlace(session, file.name, content);
    if (stood) return `${file.name} ${inPlaceWords(stood)}`;
    const id = freshId();
    const edit = {
      edit: "add_layer",
      id,
      content,
      name: file.name.replace(/\.\w+$/, "").trim() || "Picture",
      position: at,
    } as Edit;
    if (!(await session.edit(edit))) throw new Error("the layer could not be added.");
    select(id);
    return `${file.name}, ${picture.width} × ${picture.height} px`;
  };

  return async (files: File[], at?: [number, number]) => {
    setPage({ drawer: null });
    const added: string[] = [];
    const failed: string[] = [];
    for (const [i, file] of files.entries()) {
      say(`Taking ${file.name} in…${files.length > 1 ? ` (${i + 1} of ${files.length})` : ""}`);
      try {
        added.push(await take(file, at));
      } catch (error) {
        failed.push(`${file.name}: ${(error as Error).message}`);
      }
    }
    const came = added.length > 2 ? `${added.length} pictures` : added.join(" and ");
    if (failed.length) sayProblem(new Error([...failed, came && `Added ${came}.`].filter(Boolean).join(" ")));
    else if (came) say(`Added ${came}.`, added.length === 1);
  };
}
