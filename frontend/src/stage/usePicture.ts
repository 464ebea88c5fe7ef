import { useEffect, useRef } from "react";
import type { View } from "../geometry/layerGeometry";
import { fps } from "../geometry/times";
import { Painter } from "../paint/painter";
import { exactFramesAreHere } from "../play/clipsAhead";
import { Pace } from "../play/pace";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { page, setPage } from "../state/page";
import { playback } from "../state/playback";
import { sceneView, useSceneView } from "../state/sceneView";

/** How long a hand rests before the picture is painted at the scene's own size again, in milliseconds. */
const REST = 150;
/** After how long a picture that is on its way is told of, in milliseconds. */
const TOLD = 300;

/**
 * The picture on two canvases. At rest it is painted at the scene's own size, as the export has it. While a hand moves
 * it, or the scene plays, it is painted at the size at which it is seen, where that is smaller: as true to the eye, and
 * a fraction of the work; coarser still where it plays, and frames would be left out.
 */
export function usePicture(view: View) {
  const session = useSession();
  const { scene } = useScene();
  const solo = useSceneView((state) => state.solo);
  const picture = useRef<HTMLCanvasElement>(null);
  const moving = useRef<HTMLCanvasElement>(null);
  const scale = view.scale * devicePixelRatio;
  const background = scene.background ?? "#00000000";
  // What moves is blurred by the server, as the export has it, once a hand has come to rest.
  const exposed = Boolean(scene.motion_blur);
  const rate = fps(scene);

  useEffect(() => {
    const { frames, pictures } = session;
    const still = { canvas: picture.current!, painter: new Painter(pictures, frames.outlines) };
    const quick = { canvas: moving.current!, painter: still.painter };
    const smaller = scale < 0.8;
    session.displayScale = scale;
    /** Paint what moves at a share of the size at which it is seen. */
    const coarsen = (share: number) => {
      const fine = Math.min(scale, 1) * share;
      const [width, height] = [scene.width, scene.height].map((n) => Math.max(Math.round(n * fine), 1));
      quick.painter = new Painter(pictures, frames.outlines, fine);
      Object.assign(quick.canvas, { width, height });
      quick.canvas.style.width = `${Math.round(scene.width * scale) / devicePixelRatio}px`;
      quick.canvas.style.height = `${Math.round(scene.height * scale) / devicePixelRatio}px`;
      still.canvas.dataset.share = `${share}`;
    };
    const pace = new Pace(coarsen);
    coarsen(1);
    let wanted = 0;
    let resting = 0;
    let painted = false;
    let version = -1;
    let asked: AbortController | null = null;

    const paint = (on: typeof still) => {
      const { solo } = sceneView();
      const order = solo.length ? frames.order.filter((id) => solo.includes(id)) : frames.order;
      const layers = order.map((id) => frames.layer(id)).filter((layer) => layer !== undefined);
      const tried = layers.length === frames.order.length ? frames.tried : null;
      const context = on.canvas.getContext("2d", { willReadFrequently: true })!;
      on.painter.paint(context, background, layers, frames.frame, tried);
      quick.canvas.style.display = on === quick ? "block" : "none";
      still.canvas.style.visibility = on === quick ? "hidden" : "";
      still.canvas.dataset.painted = `${frames.frame}`;
      // The server knows nothing of layers that are looked at alone.
      const blurs = exposed && !solo.length;
      still.canvas.dataset.ready = on === quick || pictures.waiting || blurs ? "" : "yes";
      asked?.abort();
      asked = null;
      if (blurs && on === still && !pictures.waiting) void expose();
    };
    /** Lay the server's picture of the frame, blurred by what moves, over the plain one. */
    const expose = async () => {
      const mine = new AbortController();
      asked = mine;
      const { frame } = frames;
      const telling = window.setTimeout(() => setPage({ blurring: true }), TOLD);
      try {
        const { signal } = mine;
        await new Promise((go) => window.setTimeout(go, playback().playing ? REST : 0));
        if (mine.signal.aborted) return;
        const response = await fetch(`/api/scenes/${session.sceneId}/still?frame=${frame}`, { signal });
        if (!response.ok) return;
        const bitmap = await createImageBitmap(await response.blob(), { colorSpaceConversion: "none" });
        if (mine.signal.aborted || frames.frame !== frame || frames.trying) return;
        const context = still.canvas.getContext("2d", { willReadFrequently: true })!;
        context.setTransform(1, 0, 0, 1, 0, 0);
        context.globalCompositeOperation = "copy";
        context.drawImage(bitmap, 0, 0);
        context.globalCompositeOperation = "source-over";
        still.canvas.dataset.ready = "yes";
      } catch {
        // Given up for a newer one, or the server is away: the plain picture stays.
      } finally {
        window.clearTimeout(telling);
        if (page().blurring) setPage({ blurring: false });
      }
    };
    const atRest = () => {
      window.clearTimeout(resting);
      // While the exact frames of clips are on their way, what is there already is painted at the size at which it is seen:
      // to paint it larger, and at once again, would hold them up.
      if (frames.has(frames.frame)) paint(!smaller || exactFramesAreHere(session, frames.frame) ? still : quick);
    };
    const rest = () => {
      // A playing that falters does not rest: to paint it larger would hold it up all the more.
      if (playback().playing) resting = window.setTimeout(rest, REST);
      else {
        pace.rest();
        atRest();
      }
    };
    const inMotion = () => {
      window.clearTimeout(resting);
      resting = window.setTimeout(rest, REST);
      if (frames.has(frames.frame)) paint(quick);
    };
    const go = () => {
      wanted = 0;
      version = frames.version;
      const { playing, speed } = playback();
      if (playing) pace.painted(1000 / (rate * speed));
      if ((smaller && (frames.trying || playing)) || (playing && pace.share < 1)) inMotion();
      else {
        if (!playing) pace.rest();
        atRest();
      }
      if (frames.trying) still.canvas.dispatchEvent(new Event("painted"));
    };
    // What a hand does is painted as soon as its answer is here, so that the next frame of the display shows it; a
    // second answer before that frame waits for it to begin.
    const ask = () => {
      if (frames.version === version) return;
      if (frames.trying && !painted) {
        painted = true;
        requestAnimationFrame(() => {
          painted = false;
        });
        go();
      } else wanted ||= requestAnimationFrame(go);
    };
    ask();
    const stop = frames.subscribe(ask);
    return () => {
      stop();
      asked?.abort();
      window.clearTimeout(resting);
      cancelAnimationFrame(wanted);
      pace.rest();
    };
  }, [session, background, scale, scene.width, scene.height, exposed, rate]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a canvas that changed its size has lost its picture
  useEffect(() => session.frames.notify(), [session, scene.width, scene.height, solo, scene.motion_blur]);

  return { picture, moving };
}
