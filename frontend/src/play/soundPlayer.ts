import { fps } from "../geometry/times";
import type { Session } from "../session/session";
import { playback } from "../state/playback";
import { sceneView } from "../state/sceneView";

const RATE = 48_000;

/** Seconds of the scene that are fetched at once, and how far ahead of what is heard they are fetched. */
const PART = 1;
const AHEAD = 2.5;

/** Seconds from the first part's arrival to when it is heard: what setting it up may take. */
const LEAD = 0.06;

/** How long playing waits for its sound before it goes on without, in milliseconds. */
const PATIENCE = 4_000;

/** How long it waits after a part that could not be fetched, in milliseconds. */
const AGAIN = 1_000;

/** Seconds after which an edit is heard while the scene plays. */
const SOON = 0.15;

/** The page's audio, made when it is first heard: a page may have only a few. */
let audio: AudioContext | null = null;

/**
 * The scene's sound while it plays. The server mixes it, by the same function as for exports; here it is only heard.
 * While it is, its clock leads the picture. What is played over and over follows on itself without a gap.
 */
export class SoundPlayer {
  private state: "off" | "coming" | "on" = "off";
  private sources: AudioBufferSourceNode[] = [];
  private turn = 0;
  /** The audio's time at which it began, the sample of the scene at which it did, and those that it plays over. */
  private at = 0;
  private start = 0;
  private loop: [number, number] | null = null;
  private rate = 1;
  /** Samples that are set up to be heard since it began. */
  private queued = 0;
  private asked = 0;
  private fetching = false;
  private revision = -1;

  constructor(private readonly session: Session) {}

  /** Whether playing waits for its first part. */
  get coming() {
    if (this.state === "coming" && performance.now() - this.asked > PATIENCE) this.stop();
    return this.state === "coming";
  }

  /** Seconds heard since it began; null where nothing is heard. */
  get elapsed(): number | null {
    if (this.state !== "on" || audio?.state !== "running") return null;
    return Math.max(audio.currentTime - this.at - (audio.outputLatency || 0), 0);
  }

  /** Begin at a frame, and play over frames from…to (not included) where they are given; nothing where it is off. */
  begin(frame: number, speed: number, over: [number, number] | null) {
    this.stop();
    const { sound, slowSound } = playback();
    const { answer } = this.session;
    if (!sound || !answer || (speed !== 1 && !slowSound) || !this.session.heard.length) return;
    audio ??= new AudioContext({ sampleRate: RATE });
    void audio.resume();
    const sample = (at: number) => Math.round((at / fps(answer.scene)) * RATE);
    this.state = "coming";
    this.asked = performance.now();
    this.rate = speed;
    this.revision = answer.revision;
    this.start = sample(frame);
    this.loop = over && over[1] > over[0] ? [sample(over[0]), sample(over[1])] : null;
    this.queued = 0;
    void this.more();
  }

  /** What is heard ends at once. */
  stop() {
    this.turn += 1;
    this.state = "off";
    this.fetching = false;
    for (const source of this.sources) source.stop();
    this.sources = [];
  }

  /** Fetch parts until enough of them lies ahead; an edit lets what was fetched before it go. */
  look() {
    const { elapsed } = this;
    const revision = this.session.answer?.revision;
    if (elapsed === null) return;
    if (revision !== undefined && revision !== this.revision) {
      this.revision = revision;
      this.turn += 1;
      this.fetching = false;
      this.queued = Math.round((elapsed * this.rate + SOON) * RATE);
      const when = this.at + this.queued / RATE / this.rate;
      for (const source of this.sources) source.stop(Math.max(when, 0));
      this.sources = [];
    }
    if (!this.fetching && this.queued / RATE / this.rate - elapsed < AHEAD) void this.more();
  }

  /** The sample of the scene that is heard so many samples after the beginning. */
  private sampleAt(queued: number): number {
    const plain = this.start + queued;
    if (!this.loop || plain < this.loop[1]) return plain;
    const [first, end] = this.loop;
    return first + ((plain - end) % (end - first));
  }

  private async more() {
    const { session, turn, queued } = this;
    this.fetching = true;
    const first = this.sampleAt(queued);
    const count = Math.min(PART * RATE, this.loop ? Math.max(this.loop[1] - first, 1) : Number.POSITIVE_INFINITY);
    const { solo } = sceneView();
    const query = new URLSearchParams({ first: String(first), count: String(count) });
    if (solo.length) query.set("only", solo.filter((id) => session.heard.includes(id)).join(",") || "none");
    try {
      const response = await fetch(`/api/scenes/${session.sceneId}/sound?${query}`);
      if (!response.ok) throw new Error(`sound: ${response.status}`);
      const samples = new Int16Array(await response.arrayBuffer());
      if (turn !== this.turn) return;
      this.hear(samples, queued);
      this.queued = queued + count;
      this.fetching = false;
    } catch {
      if (turn !== this.turn) return;
      if (this.state === "coming") this.stop();
      setTimeout(() => {
        if (turn === this.turn) this.fetching = false;
      }, AGAIN);
    }
  }

  /** Set a part up to be heard after so many samples. */
  private hear(samples: Int16Array, queued: number) {
    if (!audio) return;
    const count = samples.length / 2;
    const buffer = audio.createBuffer(2, count, RATE);
    for (const channel of [0, 1]) {
      const data = buffer.getChannelData(channel);
      for (let i = 0; i < count; i += 1) data[i] = samples[2 * i + channel] / 32_767;
    }
    if (this.state === "coming") {
      this.at = audio.currentTime + LEAD;
      this.state = "on";
    }
    const source = audio.createBufferSource();
    source.buffer = buffer;
    source.playbackRate.value = this.rate;
    source.connect(audio.destination);
    const when = this.at + queued / RATE / this.rate;
    const late = audio.currentTime - when;
    if (late > 0) source.start(0, late * this.rate);
    else source.start(when);
    this.sources.push(source);
    source.onended = () => {
      this.sources = this.sources.filter((one) => one !== source);
    };
  }
}
