import { hashKey, type QueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, client, type Edit, type Facts, need, Offline, type SceneAnswer } from "../api/client";
import { Live } from "../api/live";
import { FrameStore } from "../stage/frames";
import { Pictures } from "../stage/painter";
import { choices, choose, say, sayProblem } from "./choices";

/** The generated client forgets that a frame rate is a pair; the document's own type knows. */
const scene = (asked: Parameters<typeof need>[0]) => need(asked) as Promise<SceneAnswer>;

/** One opened scene: its frames, its live socket, and the one road by which edits reach the server. */
export class Session {
  readonly frames: FrameStore;
  readonly pictures: Pictures;
  private readonly live: Live;
  private readonly hash: string;
  private queue: Promise<unknown> = Promise.resolve();
  private dropped = false;
  private back: (() => void)[] = [];

  constructor(
    readonly sceneId: string,
    private readonly cache: QueryClient,
  ) {
    this.hash = hashKey(this.key);
    this.frames = new FrameStore(sceneId);
    this.pictures = new Pictures(() => this.frames.notify());
    this.live = new Live(sceneId, {
      tried: (message) => this.frames.setTrial(message),
      problem: (message) => sayProblem(new Error([message.detail, message.mend].filter(Boolean).join(" "))),
      revision: () => void this.reload(),
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

  layer(id: string) {
    return this.answer?.scene.layers?.find((layer) => layer.id === id);
  }

  /** Provisional edits: shown, not kept. */
  try(edits: Edit[]) {
    this.live.try(edits, this.frames.window());
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
    this.live.forget();
    const path = { scene_id: this.sceneId };
    const body = { edits, client, token: crypto.randomUUID() };
    return this.ask(
      () => this.patiently(() => api.POST("/api/scenes/{scene_id}/edits", { params: { path }, body })),
      false,
    );
  }

  private async patiently(request: () => Parameters<typeof need>[0]): Promise<SceneAnswer> {
    for (;;) {
      try {
        return await scene(request());
      } catch (error) {
        if (!(error instanceof Offline)) throw error;
        sayProblem(
          new Error("The server does not answer. The change is kept here, and is sent when the line is back."),
        );
        await new Promise<void>((go) => {
          this.back.push(go);
          if (!this.dropped) setTimeout(go, 800);
        });
      }
    }
  }

  undo = () => this.step("undo");
  redo = () => this.step("redo");

  /** Bring the scene to any step of its history. */
  goTo(revision: number) {
    const options = { params: { path: { scene_id: this.sceneId }, query: { revision, client } } };
    return this.ask(() => scene(api.POST("/api/scenes/{scene_id}/goto", options)), true);
  }

  close() {
    this.live.close();
  }

  /** The scene as the server has it, after another window's revision or a broken line. */
  async reload() {
    try {
      const path = { scene_id: this.sceneId };
      await this.take(await scene(api.GET("/api/scenes/{scene_id}", { params: { path } })), null);
    } catch (error) {
      sayProblem(error);
    }
  }

  private step(way: "undo" | "redo") {
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

  private ask(request: () => Promise<SceneAnswer>, tell: boolean): Promise<boolean> {
    const done = this.queue.then(async () => {
      try {
        const answer = await request();
        await this.take(answer, answer.changed ?? null);
        if (answer.notices?.length) say(answer.notices.join(" "), true);
        else if (tell && answer.said) say(answer.said);
        return true;
      } catch (error) {
        this.frames.endTrial();
        sayProblem(error);
        if (this.dropped) return false;
        await this.reload();
        return false;
      }
    });
    this.queue = done;
    return done;
  }

  private async take(answer: SceneAnswer, changed: string[] | null) {
    const ids = new Set((answer.scene.layers ?? []).map((layer) => layer.id!));
    await this.frames.refresh(answer.scene.length, changed, () => this.live.trying);
    this.live.again();
    this.cache.setQueryData(this.key, answer);
    const { selected, keys, solo } = choices();
    if (solo.some((id) => !ids.has(id))) choose({ solo: solo.filter((id) => ids.has(id)) });
    if (selected.some((id) => !ids.has(id)))
      choose({ selected: selected.filter((id) => ids.has(id)), keys: keys.filter((key) => ids.has(key.layer)) });
    this.frames.notify();
  }

  private connected(up: boolean) {
    if (up && this.dropped) {
      say("The live line to the server is back.");
      if (!this.back.length) void this.reload();
      for (const go of this.back.splice(0)) go();
    }
    this.dropped = !up;
    choose({ connected: up });
  }
}

export const SessionContext = createContext<Session | null>(null);

export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("no session");
  return session;
}
