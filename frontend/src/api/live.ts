import type { ProblemMessage, ResolvedMessage, RevisionMessage } from "./arrays";
import { unpack } from "./arrays";
import { client, type Edit } from "./client";

export interface LiveEvents {
  /** Any answer at all, one too late to be shown as well: the server sends an outline once on a line. */
  learned(message: ResolvedMessage): void;
  tried(message: ResolvedMessage): void;
  problem(message: ProblemMessage): void;
  revision(message: RevisionMessage): void;
  /** A scene that lies in this one changed. */
  inner(): void;
  connected(up: boolean): void;
}

/** The live socket: the newest provisional edit wins, one is under way at a time, none queue up behind it. */
export class Live {
  private socket: WebSocket | null = null;
  private seq = 0;
  private waiting = false;
  private next: object | null = null;
  /** What a hand tries, until it lets go. */
  private last: { first: number; stop: number; edits: Edit[]; speeds: boolean } | null = null;
  /** Whether what it tries was refused: a line that is back is not asked the same again. */
  private refused = false;
  private closed = false;
  private floor = 0;

  constructor(
    private readonly sceneId: string,
    private readonly events: LiveEvents,
  ) {
    this.connect();
  }

  try(edits: Edit[], [first, stop]: [number, number], speeds: boolean) {
    this.last = { first, stop, edits, speeds };
    this.refused = false;
    this.again();
  }

  /** Whether a hand is trying something. */
  get trying() {
    return this.last !== null;
  }

  /** Resend what is being tried, on a scene that changed under the hand. */
  again() {
    if (!this.last) return;
    this.seq += 1;
    this.next = { seq: this.seq, ...this.last };
    this.send();
  }

  /** Answers to trials sent before now are of no use any more. */
  forget() {
    this.next = this.last = null;
    this.floor = this.seq + 1;
  }

  close() {
    this.closed = true;
    this.socket?.close();
  }

  private send() {
    if (this.waiting || !this.next || this.socket?.readyState !== WebSocket.OPEN) return;
    this.socket.send(JSON.stringify(this.next));
    this.next = null;
    this.waiting = true;
  }

  private connect() {
    const socket = new WebSocket(
      `${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/api/scenes/${this.sceneId}/live`,
    );
    socket.binaryType = "arraybuffer";
    socket.onopen = () => {
      this.waiting = false;
      this.events.connected(true);
      if (!this.refused) this.again();
    };
    socket.onmessage = ({ data }) => {
      let message: ReturnType<typeof unpack>;
      try {
        message = unpack(data as ArrayBuffer);
      } catch {
        // What cannot be read may have been anything: the line is opened again, and the scene loaded.
        socket.close();
        return;
      }
      if (message.type === "inner") {
        this.events.inner();
        return;
      }
      if (message.type === "revision") {
        if (message.client !== client) this.events.revision(message);
        return;
      }
      // The next goes out first: the server works on it while this one is painted.
      this.waiting = false;
      this.send();
      if (message.type !== "problem") this.events.learned(message);
      else if (message.seq === this.seq) this.refused = true;
      if ((message.seq ?? 0) < this.floor) return;
      if (message.type === "problem") this.events.problem(message);
      else this.events.tried(message);
    };
    socket.onclose = () => {
      this.waiting = false;
      if (this.closed) return;
      this.events.connected(false);
      setTimeout(() => this.connect(), 800);
    };
    this.socket = socket;
  }
}
