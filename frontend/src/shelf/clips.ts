import { useQueryClient } from "@tanstack/react-query";
import { api, type Edit, Problem } from "../api/client";
import type { components } from "../api/schema";
import { freshId } from "../api/token";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { say, sayProblem, sayWhile, setPage } from "../state/page";
import { select } from "../state/selection";
import { inPlaceWords, putInPlace } from "./missing";

type ClipAnswer = components["schemas"]["ClipAnswer"];

const FILMS = /\.(mp4|m4v|mov|webm|mkv|gif|apng|zip|wav|mp3|m4a|aac|flac|ogg|oga|opus)$/i;
const HEAD = 65_536;

/** Whether a file is a film or an animated picture: by its kind, its name, or what its first bytes say. */
export async function isClip(file: File): Promise<boolean> {
  if (/^(video|audio)\//.test(file.type) || file.type === "image/gif" || FILMS.test(file.name)) return true;
  if (file.type !== "image/png" && file.type !== "image/webp") return false;
  const head = new TextDecoder("latin1").decode(await file.slice(0, HEAD).arrayBuffer());
  return head.includes(file.type === "image/png" ? "acTL" : "ANIM");
}

class Stopped extends Error {}

/** Send a file; `progress` hears the part of it that is there, and is given a way to stop. */
function sent(url: string, file: File, progress: (part: number, stop: () => void) => void): Promise<ClipAnswer> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    const stop = () => request.abort();
    request.open("POST", url);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = ({ loaded, total }) => progress(total ? loaded / total : 0, stop);
    request.onload = () => {
      try {
        const answer = JSON.parse(request.responseText);
        if (request.status < 300) done(answer);
        else failed(new Problem(answer.detail, answer.where, answer.mend));
      } catch {
        failed(new Problem(`The server answered ${request.status}.`));
      }
    };
    request.onerror = () => failed(new Problem("The server does not answer.", "", "Is it still running?"));
    request.onabort = () => failed(new Stopped());
    progress(0, stop);
    request.send(file);
  });
}

/** While a file is read, say whether files wait for their turn: all that is decoded shares the memory for it. */
async function sayWhatWaits(name: string, stop: () => void, goesOn: () => boolean) {
  const { data } = await api.GET("/api/decoding").catch(() => ({ data: undefined }));
  const waiting = data?.waiting ?? 0;
  if (waiting && goesOn())
    sayWhile(`Reading ${name}… ${waiting === 1 ? "One file waits" : `${waiting} files wait`} for memory.`, stop);
}

/** Takes films into the project, each as a layer that starts at the playhead; one line says how far they are. */
export function useAddClips() {
  const session = useSession();
  const cache = useQueryClient();
  const { project, scene } = useScene();

  const take = async (file: File, at?: [number, number], rate?: string): Promise<string> => {
    // Numbered pictures in a ZIP file have no rate of their own: they get the scene's.
    const { frame_rate: own = [30, 1] } = scene;
    const given = rate ?? (/\.zip$/i.test(file.name) ? own.join("/") : undefined);
    const query = new URLSearchParams({ name: file.name, ...(given ? { rate: given } : {}) });
    const url = `/api/projects/${project}/clips?${query}`;
    let asking = 0;
    const clip = await sent(url, file, (part, stop) => {
      sayWhile(part < 1 ? `Taking ${file.name} in… ${Math.floor(part * 100)} %` : `Reading ${file.name}…`, stop);
      if (part >= 1 && !asking)
        asking = window.setInterval(() => void sayWhatWaits(file.name, stop, () => asking > 0), 1_500);
    }).finally(() => {
      window.clearInterval(asking);
      asking = -1;
    });
    void cache.invalidateQueries({ queryKey: ["clips", project] });
    if (clip.found_again) {
      session.frames.notify();
      return `found again: ${clip.name}`;
    }
    const content = { kind: clip.width ? "clip" : "sound", asset: clip.id };
    const stood = await putInPlace(session, file.name, content);
    if (stood) return `${file.name} ${inPlaceWords(stood)}`;
    const id = freshId();
    const edit = {
      edit: "add_layer",
      id,
      content,
      name: file.name.replace(/\.\w+$/, "").trim() || "Clip",
      position: at,
      start: session.frames.frame,
    } as unknown as Edit;
    if (!(await session.edit(edit))) throw new Error("the layer could not be added.");
    select(id);
    const size = clip.width ? `${clip.width} × ${clip.height} px, ` : "";
    const words = `${file.name}, ${size}${clip.length.toFixed(1)} s`;
    return clip.note ? `${words}. ${clip.note}` : words;
  };

  return async (files: File[], at?: [number, number], rate?: string) => {
    setPage({ drawer: null });
    const added: string[] = [];
    const failed: string[] = [];
    for (const file of files) {
      try {
        added.push(await take(file, at, rate));
      } catch (error) {
        failed.push(
          error instanceof Stopped ? `${file.name} was stopped.` : `${file.name}: ${(error as Error).message}`,
        );
      }
    }
    const found = added.filter((words) => words.startsWith("found again"));
    const fresh = added.filter((words) => !found.includes(words));
    const came = [fresh.length ? `Added ${fresh.join(" and ")}.` : "", ...found.map((words) => `F${words.slice(1)}.`)]
      .filter(Boolean)
      .join(" ");
    if (failed.length) sayProblem(new Error([...failed, came].filter(Boolean).join(" ")));
    else say(came.replace(/\.\.$/, "."), added.length === 1);
  };
}
