import type { LayerArrays, Outline, ResolvedMessage } from "../api/arrays";
import { unpack } from "../api/arrays";
import { layerIn } from "./items";

/** Frames fetched at once. */
export const PIECE = 240;

/** Pieces farther from the playhead than this are let go. */
const REACH = 24;

/** The shortest time between two tellings of numbers, in milliseconds. */
const CALM = 66;

/** How long a piece that could not be fetched is left alone, in milliseconds. */
const RETRY = 1_000;

interface Piece {
  /** The refresh it belongs to. */
  epoch: number;
  layers: Map<string, LayerArrays>;
}

/** The server answered, but not with frames. */
class Unanswered extends Error {
  constructor(readonly status: number) {
    super(`resolved: ${status}`);
  }
}

/**
 * What changes every frame: the playhead and the resolved arrays around it. Stage, panel and lanes subscribe to it and
 * paint by themselves, so that React renders nothing while the scene plays or a pointer drags.
 */
export class FrameStore {
  frame = 0;
  length = 1;
  order: string[] = [];
  readonly outlines = new Map<string, Outline>();
  private readonly pieces = new Map<number, Piece>();
  private readonly asked = new Map<number, Promise<void>>();
  private trial: Map<string, LayerArrays> | null = null;
  private readonly listeners = new Set<() => void>();
  private readonly calm = new Set<() => void>();
  private calmed = 0;
  private due = 0;
  private epoch = 0;
  /** What changed and has not come yet: layers, or null for all of them. A refresh that a later one overtakes leaves it. */
  private stale: Set<string> | null = new Set();
  /** Whether arrays are fetched with the speeds of properties. */
  speeds = false;
  /** Counts what changes the picture: frame, arrays, outlines, pictures. */
  version = 0;
  /** Told of frames, the last not included, that the server could not give. */
  lost: (from: number, to: number, status: number) => void = () => {};

  constructor(readonly sceneId: string) {}

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  /**
   * Hear of changes a few times a second at most, and of the last one always: for numbers, which nobody reads more often,
   * and which cost a layout where the picture costs none.
   */
  subscribeCalmly = (listener: () => void) => {
    this.calm.add(listener);
    return () => {
      this.calm.delete(listener);
    };
  };

  /** Tell the listeners that the picture changed. */
  notify() {
    this.version += 1;
    this.touch();
  }

  /** Tell them that only what lies over the picture changed. */
  touch() {
    for (const listener of this.listeners) listener();
    if (!this.due) this.due = window.setTimeout(this.tellCalmly, this.calmed + CALM - performance.now());
  }

  private readonly tellCalmly = () => {
    this.due = 0;
    this.calmed = performance.now();
    for (const listener of this.calm) listener();
  };

  seek(frame: number) {
    const next = Math.min(Math.max(Math.round(frame), 0), this.length - 1);
    if (next === this.frame) return;
    this.frame = next;
    void this.ensure(next);
    this.notify();
  }

  /** The layer's arrays that hold a frame: those being tried, else those of the newest revision. */
  layer(id: string, frame = this.frame): LayerArrays | undefined {
    const tried = this.trial?.get(id);
    if (tried && frame >= tried.from && frame < tried.to) return tried;
    return this.pieces.get(Math.floor(frame / PIECE))?.layers.get(id);
  }

  has(frame: number) {
    return this.pieces.has(Math.floor(frame / PIECE));
  }

  get trying() {
    return this.trial !== null;
  }

  /** The places of the backmost and the frontmost layer that are being tried; null where none is. */
  get tried(): [number, number] | null {
    const places = [...(this.trial?.keys() ?? [])].map((id) => this.order.indexOf(id)).filter((place) => place >= 0);
    return places.length ? [Math.min(...places), Math.max(...places)] : null;
  }

  /** Frames for which a trial's answer is wanted: the piece around the playhead. */
  window(): [number, number] {
    const first = Math.floor(this.frame / PIECE) * PIECE;
    return [first, Math.min(first + PIECE, this.length)];
  }

  setTrial(message: ResolvedMessage) {
    this.order = message.order;
    this.trial = new Map(Object.entries(message.layers));
    this.notify();
  }

  endTrial() {
    if (!this.trial) return;
    this.trial = null;
    this.notify();
  }

  /** Begin at a frame, with the piece around it. */
  async open(length: number, frame: number) {
    this.length = length;
    this.frame = Math.min(Math.max(Math.round(frame), 0), length - 1);
    const index = Math.floor(this.frame / PIECE);
    this.keep(index, await this.fetch(index));
  }

  private keep(index: number, message: ResolvedMessage, layers = new Map(Object.entries(message.layers))) {
    this.order = message.order;
    for (const other of this.pieces.keys()) if (this.isFar(other)) this.pieces.delete(other);
    this.pieces.set(index, { epoch: this.epoch, layers });
    this.notify();
  }

  private isFar(index: number) {
    return Math.abs(index - Math.floor(this.frame / PIECE)) > REACH;
  }

  /** As `ensure`, for what is drawn besides the picture: what is far from the playhead is left out. */
  look(frame: number) {
    if (!this.isFar(Math.floor(frame / PIECE))) void this.ensure(frame);
  }

  /** Make sure that the piece around a frame is there; a fetch that fails is tried again when it is next wanted. */
  ensure(frame: number): Promise<void> {
    const index = Math.floor(frame / PIECE);
    if (frame < 0 || frame >= this.length || this.pieces.has(index)) return Promise.resolve();
    const there = this.asked.get(index);
    if (there) return there;
    const epoch = this.epoch;
    const asking = this.fetch(index)
      .then((message) => {
        if (epoch === this.epoch) this.keep(index, message);
      })
      .catch((error) => {
        // A line that is away is told of by itself.
        if (error instanceof Unanswered && epoch === this.epoch)
          this.lost(index * PIECE, Math.min((index + 1) * PIECE, this.length), error.status);
        return new Promise<void>((go) => setTimeout(go, RETRY));
      })
      .finally(() => {
        if (this.asked.get(index) === asking) this.asked.delete(index);
      });
    this.asked.set(index, asking);
    return asking;
  }

  /**
   * After a revision: fetch the changed layers around the playhead again, or all where `changed` is not known. What a hand
   * is trying stays where `trying` says so. Pieces of the revision before go; those fetched meanwhile stay. `brought` are
   * the arrays of what changed, where they came along with the answer: nothing is fetched then.
   */
  async refresh(length: number, changed: string[] | null, trying = () => false, brought: string | null = null) {
    this.epoch += 1;
    this.asked.clear();
    this.length = length;
    this.stale = changed && this.stale && new Set([...this.stale, ...changed]);
    if (this.frame >= length) this.frame = length - 1;
    const here = Math.floor(this.frame / PIECE);
    const piece = this.pieces.get(here);
    const { epoch } = this;
    const wanted = piece && this.stale ? [...this.stale] : null;
    const message = (wanted && this.read(brought, here, wanted)) ?? (await this.fetch(here, wanted));
    if (epoch !== this.epoch) return;
    this.stale = new Set();
    const kept = piece && wanted ? piece.layers : new Map<string, LayerArrays>();
    const alive = new Set(message.order);
    // Shapes within a layer come with it: those that are gone do not.
    for (const id of kept.keys()) if (!alive.has(layerIn(id)) || layerIn(id) in message.layers) kept.delete(id);
    for (const [id, arrays] of Object.entries(message.layers)) kept.set(id, arrays);
    for (const [index, { epoch }] of this.pieces) if (epoch !== this.epoch) this.pieces.delete(index);
    if (!trying()) this.trial = null;
    this.keep(here, message, kept);
    void this.ensure(this.frame);
  }

  private async fetch(index: number, layers: string[] | null = null): Promise<ResolvedMessage> {
    const query = new URLSearchParams({ from: String(index * PIECE), to: String((index + 1) * PIECE) });
    if (layers) query.set("layers", layers.join(","));
    if (this.speeds) query.set("speeds", "true");
    const response = await fetch(`/api/scenes/${this.sceneId}/resolved?${query}`);
    if (!response.ok) throw new Unanswered(response.status);
    const message = unpack(await response.arrayBuffer()) as ResolvedMessage;
    this.learn(message);
    return message;
  }

  /** Arrays that an answer brought, in base64, where they are those of a piece and of all that is wanted. */
  private read(brought: string | null, index: number, wanted: string[]): ResolvedMessage | null {
    if (!brought) return null;
    const bytes = Uint8Array.from(atob(brought), (letter) => letter.charCodeAt(0));
    const message = unpack(bytes.buffer) as ResolvedMessage;
    const { from, to, order } = message;
    const is = from === index * PIECE && to >= Math.min((index + 1) * PIECE, this.length);
    if (!is || wanted.some((id) => order.includes(id) && !(id in message.layers))) return null;
    this.learn(message);
    return message;
  }

  /** Outlines are kept by their names, which stand for one drawing forever. */
  learn(message: ResolvedMessage) {
    for (const [name, outline] of Object.entries(message.outlines)) this.outlines.set(name, outline);
  }
}
