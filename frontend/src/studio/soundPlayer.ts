import { playback } from "./playback";
import { sceneView } from "./sceneView";
import type { Session } from "./session";
import { fps } from "./times";

const RATE = 48_000;

/** Seconds of the scene that are fetched at once, and how far ahead of what is heard they are fetched. */
const PART = 1;
const AHEAD = 2.5;

/** Seconds from the first part's arrival to when it is heard: what setting it up may take. */
const LEAD = 0.06;

/** How long playing waits for its sound before it goes on without, in milliseconds. */
const PATIENCE = 4_000;

/** The page's audio, made when it is first heard: a page may have only a few. */
let audio: AudioContext | null = null;

/** How long it waits after a part that could not be fetched, in milliseconds. */
const AGAIN = 1_000;

/**
 * The scene's sound while it plays. The server mixes it, by the same function as for exports; here it is only heard.
 * While it is, its clock leads the picture.
 */
export class SoundPlayer {
  private context: AudioContext | null = null;
  private state: "off" | "coming" | "on" = "off";
  private sources: AudioBufferSourceNode[] = [];
  private turn = 0;
  /** Where it began: a sample of the scene, and the context's time at which that is heard. */
  private sample = 0;
  private at = 0;
  private rate = 1;
  private asked = 0;
  private fetched = 0;
  private revision = -1;

  constructor(private readonly session: Session) {}

  /** Whether playing waits for its first part. */
  get coming() {
    if (this.state === "coming" && performance.now() - this.asked > PATIENCE) this.stop();
    return this.state === "coming";
  }

  /** Seconds heard since it began, in the scene's own time at full speed; null where nothing is heard. */
  get elapsed(): number | null {
    if (this.state !== "on" || !this.context || this.context.state !== "running") return null;
    const late = this.context.outputLatency || 0;
    return Math.max(this.context.currentTime - this.at - late, 0);
  }

  /** Begin at a frame; nothing happens where nothing can be heard. */
  begin(frame: number, speed: number) {
    this.stop();
    const { sound, slowSound } = playback();
    const { answer } = this.session;
    if (!sound || !answer || (speed !== 1 && !slowSound) || !this.session.heard.length) return;
    audio ??= new AudioContext({ sampleRate: RATE });
    this.context = audio;
    void this.context.resume();
    this.state = "coming";
    this.asked = performance.now();
    this.rate = speed;
    this.revision = answer.revision;
    this.sample = Math.round((frame / fps(answer.scene)) * RATE);
    this.fetched = this.sample;
    void this.more(this.turn);
  }

  /** What is heard ends at once. */
  stop() {
    this.turn += 1;
    this.state = "off";
    for (const source of this.sources) source.stop();
    this.sources = [];
  }

  /** Fetch parts until enough of them lies ahead; an edit lets what was fetched before it go. */
  look() {
    const { elapsed } = this;
    if (elapsed === null) return;
    if (this.session.answer && this.session.answer.revision !== this.revision) {
      const now = this.sample + Math.round((elapsed * this.rate + 0.15) * RATE);
      this.revision = this.session.answer.revision;
      this.fetched = now;
      this.turn += 1;
      const when = this.at + (now - this.sample) / RATE / this.rate;
      for (const source of this.sources) source.stop(Math.max(when, 0));
      this.sources = [];
      void this.more(this.turn);
    }
    if (!this.fetching && (this.fetched - this.sample) / RATE / this.rate - elapsed < AHEAD) void this.more(this.turn);
  }

  private fetching = false;

  private async more(turn: number) {
    const { session } = this;
    this.fetching = true;
    const first = this.fetched;
    const count = PART * RATE;
    const only = sceneView().solo.filter((id) => session.heard.includes(id));
    const query = new URLSearchParams({ first: String(first), count: String(count) });
    if (sceneView().solo.length) query.set("only", only.join(",") || "none");
    try {
      const response = await fetch(`/api/scenes/${session.sceneId}/sound?${query}`);
      if (!response.ok) throw new Error(`sound: ${response.status}`);
      const samples = new Int16Array(await response.arrayBuffer());
      if (turn !== this.turn || !this.context) {
        this.fetching = false;
        return;
      }
      const buffer = this.context.createBuffer(2, count, RATE);
      for (const channel of [0, 1]) {
        const data = buffer.getChannelData(channel);
        for (let i = 0; i < count; i += 1) data[i] = samples[2 * i + channel] / 32_767;
      }
      if (this.state === "coming") {
        this.at = this.context.currentTime + LEAD;
        this.state = "on";
      }
      const source = this.context.createBufferSource();
      source.buffer = buffer;
      source.playbackRate.value = this.rate;
      source.connect(this.context.destination);
      const when = this.at + (first - this.sample) / RATE / this.rate;
      const late = this.context.currentTime - when;
      if (late > 0) source.start(0, late * this.rate);
      else source.start(when);
      this.sources.push(source);
      source.onended = () => {
        this.sources = this.sources.filter((one) => one !== source);
      };
      this.fetched = first + count;
      this.fetching = false;
    } catch {
      if (turn === this.turn && this.state === "coming") this.stop();
      setTimeout(() => {
        this.fetching = false;
      }, AGAIN);
    }
  }
}
