import { type LayerArrays, row } from "../api/arrays";
import { Painter } from "../paint/painter";
import { PageMedia } from "./media";
import { type Box, Runs } from "./runs";
import { bytesOf, type Scene, shipped } from "./shipped";

/** Plays the scene of the page on its canvas: the stage's own painter, from the same numbers. */
class Player {
  frame = -1;
  private readonly painter: Painter;
  private readonly context: CanvasRenderingContext2D;
  private readonly media: PageMedia;
  private readonly background: string;
  /** The moment at which frame 0 was, or would have been; null at rest. */
  private begun: number | null = null;
  private way = 1;
  private readonly runs: Runs;
  /** The frame that is painted; −1 before any is. */
  private painted = -1;
  private audio: HTMLAudioElement | null = null;

  constructor(
    readonly scene: Scene,
    readonly canvas: HTMLCanvasElement,
  ) {
    this.media = new PageMedia(scene);
    this.painter = new Painter(this.media, scene.outlines, scene.scale, false);
    this.context = canvas.getContext("2d", { willReadFrequently: true })!;
    this.background = scene.background;
    const looks = scene.layers.map((layer) => alike(layer, scene.count));
    this.runs = new Runs(this.painter, {
      layers: scene.layers,
      background: this.background,
      alike: (index, one, other) => looks[index][one] === looks[index][other],
      look: (index, frame) => looks[index][frame],
      reach: (index, frame) => {
        const column = scene.reach[index];
        return column === null ? null : (row(scene.layers[index], column, frame) as unknown as Box);
      },
    });
  }

  get rate() {
    return this.scene.rate[0] / this.scene.rate[1];
  }

  async open() {
    await this.media.pictures();
    if (this.scene.sound !== null) {
      this.audio = new Audio(URL.createObjectURL(await bytesOf(`media-${this.scene.sound}`)));
      this.audio.preload = "auto";
    }
    await this.seek(0);
  }

  /** Paint a frame, as soon as what is seen in it is here. */
  async seek(frame: number): Promise<void> {
    const now = Math.min(Math.max(Math.floor(frame), 0), this.scene.count - 1);
    if (now === this.frame) return;
    this.frame = now;
    if (this.runs.alike(this.painted, now)) {
      this.painted = now;
      this.canvas.dataset.frame = String(now);
      return;
    }
    await this.media.ready(this.shown, now);
    if (this.frame === now) this.paint(now);
  }

  private paint(frame: number) {
    const next = Math.min(Math.max(frame + this.way, 0), this.scene.count - 1);
    if (!this.runs.paint(this.context, this.painted, frame, next))
      this.painter.paint(this.context, this.background, this.scene.layers, frame);
    this.painted = frame;
    this.canvas.dataset.frame = String(frame);
  }

  /** The frames of clips that are seen at a frame of the scene. */
  private shown = (frame: number): [string, number][] =>
    this.scene.layers.flatMap((layer) =>
      clipsIn(layer.group).map(([source, column]): [string, number] => [source, row(layer, column, frame)[0]]),
    );

  get playing() {
    return this.begun !== null;
  }

  /** Play from where it is, or from the beginning where it is at its end; −1 plays backwards. */
  play(way = 1) {
    const end = way > 0 ? this.scene.count - 1 : 0;
    if (this.frame === end && way > 0) this.frame = 0;
    const was = this.playing;
    this.way = way;
    this.begun = performance.now() - (way > 0 ? this.frame : this.scene.count - 1 - this.frame) * (1000 / this.rate);
    if (this.audio && way > 0) {
      this.audio.currentTime = this.frame / this.rate;
      void this.audio.play().catch(() => undefined);
    }
    if (!was) requestAnimationFrame(this.step);
  }

  pause() {
    this.begun = null;
    this.audio?.pause();
  }

  private step = (now: number) => {
    if (this.begun === null) return;
    const { count, plays } = this.scene;
    const gone = Math.max(Math.floor(((now - this.begun) / 1000) * this.rate + 0.01), 0);
    if (this.way < 0) void this.seek(count - 1 - gone);
    else if (plays && gone >= count * plays) void this.seek(count - 1);
    else {
      if (gone >= count && gone % count < this.frame && this.audio) this.audio.currentTime = 0;
      void this.seek(gone % count);
    }
    const over = this.way < 0 ? gone >= count - 1 : plays > 0 && gone >= count * plays;
    if (over) this.pause();
    else requestAnimationFrame(this.step);
  };
}

/** For each frame the first of those in a row in which no number of a layer is another. */
function alike({ columns }: LayerArrays, count: number): Uint32Array {
  const changed = new Uint8Array(count);
  for (const { width, rows, data } of columns)
    if (rows > 1)
      for (let at = width; at < data.length; at++)
        if (data[at] !== data[at - width]) changed[Math.floor(at / width)] = 1;
  const looks = new Uint32Array(count);
  for (let frame = 1; frame < count; frame++) looks[frame] = changed[frame] ? frame : looks[frame - 1];
  return looks;
}

/** The sources of clips in a group, with the column of their frames. */
function clipsIn(group: Scene["layers"][number]["group"]): [string, number][] {
  return [...group.parts, ...(group.matte?.parts ?? [])].flatMap((part) => {
    if (part.op === "group") return clipsIn(part);
    return part.op === "image" && part.frame !== null ? [[part.source, part.frame] as [string, number]] : [];
  });
}

const still = () => matchMedia("(prefers-reduced-motion: reduce)").matches;

/** By a press, and by Enter and the space bar. */
function byPress(player: Player) {
  const { canvas } = player;
  canvas.tabIndex = 0;
  canvas.style.cursor = "pointer";
  const toggle = () => (player.playing ? player.pause() : player.play());
  canvas.addEventListener("click", toggle);
  canvas.addEventListener("keydown", (event) => {
    if ((event.key !== "Enter" && event.key !== " ") || event.repeat) return;
    event.preventDefault();
    toggle();
  });
}

/** In while the pointer or the keyboard is on it, out as it leaves. */
function byHover(player: Player) {
  const { canvas } = player;
  canvas.tabIndex = 0;
  for (const [begin, end] of [
    ["pointerenter", "pointerleave"],
    ["focus", "blur"],
  ]) {
    canvas.addEventListener(begin, () => player.play(1));
    canvas.addEventListener(end, () => player.play(-1));
  }
}

/** From where it comes into view at the bottom to where it leaves at the top. */
function byScrolling(player: Player) {
  const follow = () => {
    const { top, height } = player.canvas.getBoundingClientRect();
    const long = document.documentElement.scrollHeight - innerHeight;
    // A page that holds nothing else is scrolled from its top to its end.
    const share = document.body.dataset.alone
      ? scrollY / Math.max(long, 1)
      : (innerHeight - top) / (innerHeight + height);
    void player.seek(Math.min(Math.max(share, 0), 1) * (player.scene.count - 1) + 0.001);
  };
  addEventListener("scroll", follow, { passive: true });
  addEventListener("resize", follow);
  follow();
}

async function start() {
  const scene = await shipped();
  const player = new Player(scene, document.querySelector("canvas")!);
  await player.open();
  Object.assign(window, { mudskipper: player });
  if (scene.starts === "scroll") byScrolling(player);
  else if (scene.starts === "hover") byHover(player);
  else {
    byPress(player);
    if (scene.starts === "at once" && !still()) player.play();
  }
  player.canvas.dataset.ready = "yes";
}

void start();
