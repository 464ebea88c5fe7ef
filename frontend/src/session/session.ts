import { hashKey, type QueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import {
  api,
  client,
  type Edit,
  type Facts,
  Garbled,
  type Layer,
  need,
  Offline,
  type SceneAnswer,
  SignedOut,
} from "../api/client";
import { Live } from "../api/live";
import { freshId } from "../api/token";
import { showsPicture } from "../document/contents";
import { FrameStore } from "../document/frames";
import { layerAt } from "../document/items";
import { keyOf } from "../document/tracks";
import { Pictures } from "../paint/pictures";
import { say, sayProblem, sayWalk, setPage, settled } from "../state/page";
import { sceneView, setSceneView } from "../state/sceneView";
import { selection, setSelection } from "../state/selection";
import { pathIn, pointCount } from "./drawnPath";
import { gradientOf } from "./gradients";

/** The generated client forgets that a frame rate is a pair; the document's own type knows. */
async function scene(asked: Parameters<typeof need>[0]): Promise<SceneAnswer> {
  const answer = (await need(asked)) as SceneAnswer | null;
  if (!Array.isArray(answer?.scene?.layers)) throw new Garbled();
  return answer;
}

/** An answer that brings what changed alone, with all else as it is known. */
function whole(answer: SceneAnswer, known: SceneAnswer | undefined): SceneAnswer {
  const { order, scene, arrays: _, ...rest } = answer;
  if (!order) return { ...rest, scene };
  const layers = new Map((known?.scene.layers ?? []).map((layer) => [layer.id!, layer]));
  for (const layer of scene.layers ?? []) layers.set(layer.id!, layer);
  return { ...rest, scene: { ...scene, layers: order.map((id) => layers.get(id)!) } };
}

/** Steps of one kind that follow one another within this time are one step to undo, in milliseconds. */
const RUN = 1_000;

/** What was asked of the server and depends on scenes that lie in this one. */
const OF_INNER = ["heard", "source", "unseen", "checks", "fonts", "wave", "projects", "place", "slots"];

/** One opened scene: its frames, its live socket, and the one road by which edits reach the server. */
export class Session {
  readonly frames: FrameStore;
  readonly pictures: Pictures;
  /** Scene pixels to those of the display, as the stage shows it. */
  displayScale = 1;
  /** Counts the changes of scenes that lie in this one. */
  innerVersion = 0;
  /** The layers that are heard, by their ids. */
  heard: string[] = [];
  private readonly live: Live;
  private readonly hash: string;
  /** Requests that change or load the document, one after another: no answer overtakes another. */
  private queue: Promise<unknown> = Promise.resolve();
  /** How many requests are waiting or under way; the page tells it, so that a test knows when all is shown. */
  private underWay = 0;
  private loading: Promise<void> | null = null;
  private run = { name: "", id: "", at: Number.NEGATIVE_INFINITY };
  private dropped = false;
  private closed = false;
  private back: (() => void)[] = [];

  constructor(
    readonly sceneId: string,
    private readonly cache: QueryClient,
  ) {
    this.hash = hashKey(this.key);
    this.frames = new FrameStore(sceneId);
    this.frames.lost = (from, to, status) =>
      sayProblem(
        new Error(
          `Frames ${from} to ${to - 1} could not be loaded (the server answered ${status}). They are loaded again when they are next shown.`,
        ),
      );
    this.pictures = new Pictures(() => this.frames.notify());
    this.live = new Live(sceneId, {
      learned: (message) => this.frames.learn(message),
      tried: (message) => {
        this.frames.setTrial(message);
        settled();
      },
      problem: (message) => sayProblem(new Error([message.detail, message.mend].filter(Boolean).join(" "))),
      revision: () => void this.reload(),
      inner: () => {
        this.innerVersion += 1;
        void this.reload().then(() => {
          for (const name of OF_INNER) void this.cache.invalidateQueries({ queryKey: [name] });
        });
      },
      connected: (up) => this.connected(up),
    });
  }

  get key() {
    return ["scene", this.sceneId];
  }

  /** Asked for many times in a move of the pointer: the key is hashed once. */
  get answer(): SceneAnswer | undefined {
    return this.cache.getQueryCache().get<SceneAnswer>(this.hash)?.state.data;
  }

  /** The shares of the frame that the safe areas take, as the core has them. */
  get safe(): Record<string, number> {
    return this.cache.getQueryData<Facts>(["facts"])?.safe ?? {};
  }

  /** A layer, or a shape within one, by its address. */
  layer(id: string) {
    return layerAt(this.answer?.scene.layers, id);
  }

  /** Provisional edits: shown, not kept. */
  try(edits: Edit[]) {
    this.live.try(edits, this.frames.window(), this.frames.speeds);
  }

  /** From now on arrays come with the speeds of properties; those that are here without are fetched again. */
  needSpeeds() {
    if (this.frames.speeds) return;
    this.frames.speeds = true;
    void this.reload();
  }

  /** Give a gesture back: what was provisional goes. */
  cancel() {
    this.live.forget();
    this.frames.endTrial();
  }

  /**
   * Keep edits as one undo step; true when they were acknowledged. While the server is away they wait here, and go out
   * as soon as the line is back; the token sees to it that nothing is applied twice.
   */
  edit(...edits: Edit[]): Promise<boolean> {
    this.run.name = "";
    return this.send(edits, null);
  }

  /** Keep a step of a run, such as a nudge: those of one name that follow one another within a second are one undo step. */
  step(name: string, ...edits: Edit[]): Promise<boolean> {
    const now = performance.now();
    if (this.run.name !== name || now - this.run.at > RUN) this.run = { name, id: freshId(), at: now };
    this.run.at = now;
    return this.send(edits, this.run.id);
  }

  /** Keep edits, as a step of a run where one is named. */
  keep(run: string | undefined, ...edits: Edit[]): Promise<boolean> {
    return run ? this.step(run, ...edits) : this.edit(...edits);
  }

  private send(edits: Edit[], run: string | null): Promise<boolean> {
    this.live.forget();
    const path = { scene_id: this.sceneId };
    const given = { edits, client, token: freshId() + freshId(), run };
    return this.ask(
      () =>
        this.patiently(() => {
          const [first, stop] = this.frames.window();
          const window = { known: this.answer?.revision ?? 0, first, stop, speeds: this.frames.speeds };
          return api.POST("/api/scenes/{scene_id}/edits", { params: { path }, body: { ...given, window } });
        }),
      false,
    );
  }

  /** Take an SVG file in as layers: one of all its shapes, or one of each of its top groups. */
  addArt(file: File, each: boolean): Promise<boolean> {
    const body = new FormData();
    body.append("file", file);
    const query = { each, client, token: freshId() + freshId() };
    const params = { path: { scene_id: this.sceneId }, query };
    const form = { body: body as never, bodySerializer: (given: unknown) => given as never };
    return this.ask(() => this.patiently(() => api.POST("/api/scenes/{scene_id}/art", { params, ...form })), false);
  }

  private async patiently(request: () => Parameters<typeof need>[0]): Promise<SceneAnswer> {
    for (;;) {
      try {
        return await scene(request());
      } catch (error) {
        if (!(error instanceof Offline)) throw error;
        const ended = error instanceof SignedOut;
        sayProblem(
          new Error(
            ended
              ? "The session has ended. The change is kept here, and is sent once you have logged in in another tab."
              : "The server does not answer. The change is kept here, and is sent when the line is back.",
          ),
        );
        await new Promise<void>((go) => {
          this.back.push(go);
          if (!this.dropped) setTimeout(go, 800);
        });
      }
    }
  }

  undo = () => this.walk("undo");
  redo = () => this.walk("redo");

  /** Bring the scene to any step of its history. */
  goTo(revision: number) {
    const options = { params: { path: { scene_id: this.sceneId }, query: { revision, client } } };
    return this.ask(() => scene(api.POST("/api/scenes/{scene_id}/goto", options)), true);
  }

  /** Fetch the pictures of layers before anything paints them. */
  fetchPictures(layers: Layer[]) {
    for (const { content } of layers) if (showsPicture(content)) this.pictures.get(content.asset);
  }

  /** The frame, or the number of frames, that a typed time tells; a Problem where it tells none. */
  /** What the project has may be another now: lists of it are asked for once more. */
  renewMedia() {
    for (const name of ["pictures", "clips", "fonts", "projects"])
      void this.cache.invalidateQueries({ queryKey: [name] });
  }

  async readTime(text: string, now?: number): Promise<number> {
    const params = { path: { scene_id: this.sceneId }, query: { text, now } };
    return (await this.counted(need(api.GET("/api/scenes/{scene_id}/time", { params })))).frame;
  }

  close() {
    this.closed = true;
    this.live.close();
  }

  /** The scene as the server has it, after another window's revision or a broken line; loads that wait are one. */
  reload(): Promise<void> {
    this.loading ??= this.enqueue(async () => {
      this.loading = null;
      await this.load();
    });
    return this.loading;
  }

  private async load() {
    try {
      const path = { scene_id: this.sceneId };
      await this.take(await scene(api.GET("/api/scenes/{scene_id}", { params: { path } })), null);
    } catch (error) {
      if (!this.dropped && !this.closed) sayProblem(error);
    }
  }

  private walk(way: "undo" | "redo") {
    this.run.name = "";
    const options = { params: { path: { scene_id: this.sceneId }, query: { client } } };
    return this.ask(
      () =>
        scene(
          way === "undo"
            ? api.POST("/api/scenes/{scene_id}/undo", options)
            : api.POST("/api/scenes/{scene_id}/redo", options),
        ),
      true,
    );
  }

  private enqueue<T>(work: () => Promise<T>): Promise<T> {
    const done = this.queue.then(work);
    this.queue = this.counted(done).catch(() => {});
    return done;
  }

  private async counted<T>(answer: Promise<T>): Promise<T> {
    const root = document.documentElement.dataset;
    root.underWay = `${++this.underWay}`;
    try {
      return await answer;
    } finally {
      root.underWay = `${--this.underWay}`;
    }
  }

  private ask(request: () => Promise<SceneAnswer>, tell: boolean): Promise<boolean> {
    return this.enqueue(async () => {
      let answer: SceneAnswer;
      try {
        answer = await request();
      } catch (error) {
        this.frames.endTrial();
        sayProblem(error);
        if (!this.dropped) await this.load();
        return false;
      }
      try {
        await this.take(answer, answer.changed ?? null);
        const words = [...(answer.notices ?? []), ...(answer.offer ? [answer.offer.sentence] : [])];
        const { button = "", edits = [] } = answer.offer ?? {};
        if (words.length) say(words.join(" "), true, answer.offer ? { button, edits: edits as never } : undefined);
        else if (tell && answer.said) sayWalk(answer.said);
        else settled();
      } catch (error) {
        // It was acknowledged: what failed is only to show it.
        this.frames.endTrial();
        sayProblem(new Error(`This is kept, but what became of it could not be fetched. ${(error as Error).message}`));
        if (!this.dropped) await this.load();
      }
      return true;
    });
  }

  /** Take an answer: the frames of what changed first, then the document. */
  private async take(answer: SceneAnswer, changed: string[] | null) {
    // What changed is counted from the revision the request was applied to; where this window has another, all is fetched.
    const known = answer.base === this.answer?.revision ? changed : null;
    // Another answer came in between: what this one leaves out is not known here.
    if (answer.order && !known) return this.load();
    await this.frames.refresh(answer.scene.length, known, () => this.live.trying, answer.arrays);
    this.live.again();
    const counted = () => pointCount(this.layer(selection().selected[0] ?? ""));
    const count = counted();
    this.cache.setQueryData(this.key, whole(answer, this.answer));
    this.tidy();
    // Points are known by their numbers, which mean others as soon as some come or go.
    if (selection().points?.length && counted() !== count) setSelection({ points: [] });
    this.frames.notify();
  }

  /** Let go of what is chosen and is gone: layers, keys, solos, the key of a path, a comparison. */
  tidy() {
    const { selected, keys, pathKey, renaming, editing, points, drawing, gradient } = selection();
    const { solo, compare } = sceneView();
    const there = (id: string) => this.layer(id) !== undefined;
    const held = keys.filter((key) => keyOf(this, key));
    if (!solo.every(there)) setSceneView({ solo: solo.filter(there) });
    if (compare && "layer" in compare && !there(compare.layer)) setSceneView({ compare: null });
    if (compare && "moment" in compare && compare.moment >= this.frames.length) setSceneView({ compare: null });
    if (drawing?.layer && !pathIn(this.layer(drawing.layer))) drawing.layer = null;
    setSelection({
      ...(selected.every(there) ? {} : { selected: selected.filter(there) }),
      ...(held.length === keys.length ? {} : { keys: held }),
      ...(points && !pathIn(this.layer(selected[0] ?? "")) ? { points: null } : {}),
      ...(gradient && !gradientOf(this.layer(selected[0] ?? ""), gradient) ? { gradient: null } : {}),
      ...(pathKey && !there(pathKey.layer) ? { pathKey: null } : {}),
      ...(renaming && !there(renaming) ? { renaming: null } : {}),
      ...(editing && !there(editing) ? { editing: null } : {}),
    });
  }

  private connected(up: boolean) {
    if (up && this.dropped) {
      say("The live line to the server is back.");
      for (const go of this.back.splice(0)) go();
      void this.reload();
    }
    this.dropped = !up;
    setPage({ connected: up });
  }
}

export const SessionContext = createContext<Session | null>(null);

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("no session");
  return session;
}
