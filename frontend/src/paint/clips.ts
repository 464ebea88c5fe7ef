import { decode } from "@msgpack/msgpack";
import type { ClipSource } from "./sources";

/** Bytes of small frames that are kept decoded, and of exact ones of a clip. */
const SMALL_BYTES = 160e6;
const EXACT_BYTES = 70e6;

/** Small frames fetched at once, and how many fetches of a clip are under way. */
const BATCH = 10;
const UNDER_WAY = 2;

/** A second exact frame wanted sooner than this, in milliseconds, is one of a row, and only the last of a row is fetched. */
const ROW = 150;

/** How long a frame that could not be fetched is left alone, in milliseconds. */
const AGAIN = 4_000;

/** The widths in which the server makes small frames (`media/clips.py`). */
const WIDTHS = [160, 320, 480, 640, 960, 1280, 1920];

const widthFor = (width: number) => WIDTHS.find((one) => one >= width) ?? WIDTHS[WIDTHS.length - 1];

/** What is kept of a clip. */
class Kept {
  /** Small frames by number, of one width. */
  small = new Map<number, ImageBitmap>();
  width = 0;
  exact = new Map<number, ImageBitmap>();
  coming = new Set<number>();
  wanted: number[] = [];
  underWay = 0;
  exactComing: number | null = null;
  exactWanted: number | null = null;
  asked = Number.NEGATIVE_INFINITY;
  inRow = false;
  timer = 0;
  failed = new Set<number>();
}

/**
 * Frames of clips: small ones in motion, fetched in batches ahead of the playhead, and at rest the exact one, as the
 * exporter has it. The server decodes; what is kept here is bounded.
 */
export class Clips implements ClipSource {
  private readonly clips = new Map<string, Kept>();
  private bytes = 0;

  constructor(private readonly arrived: () => void) {}

  /** The exact frame, or null until it is here. */
  exact(asset: string, frame: number): ImageBitmap | null {
    const kept = this.of(asset);
    const found = kept.exact.get(frame);
    if (found) {
      kept.exact.delete(frame);
      kept.exact.set(frame, found);
      return found;
    }
    if (kept.failed.has(frame) || kept.exactComing === frame || kept.exactWanted === frame) return null;
    kept.exactWanted = frame;
    const now = performance.now();
    window.clearTimeout(kept.timer);
    // One click fetches at once; of a playhead that is dragged along only the frame where it stops.
    if (now - kept.asked > ROW) void this.fetchExact(asset, kept);
    else kept.timer = window.setTimeout(() => void this.fetchExact(asset, kept), ROW);
    kept.inRow = now - kept.asked <= ROW;
    kept.asked = now;
    return null;
  }

  /** Whether an exact frame is on its way. */
  isComing(asset: string, frame: number): boolean {
    const kept = this.of(asset);
    return kept.exactComing === frame || kept.exactWanted === frame;
  }

  /** Whether exact frames are wanted one after another, as of a playhead that is dragged: small ones come sooner then. */
  inRow(asset: string): boolean {
    return this.of(asset).inRow;
  }

  /** A frame at least as wide as it is seen, or null until it is here. */
  small(asset: string, frame: number, width: number): ImageBitmap | null {
    const kept = this.sized(asset, width);
    const found = kept.small.get(frame);
    if (!found && !kept.wanted.includes(frame) && !kept.coming.has(frame) && !kept.failed.has(frame)) {
      kept.wanted.unshift(frame);
      this.fetchSmall(asset, kept);
    }
    return found ?? null;
  }

  /** A hand may press here: have the frame decoded, and no others after it. */
  foresee(asset: string, frame: number, width: number) {
    const kept = this.sized(asset, width);
    if (this.has(asset, frame) || kept.coming.has(frame)) return;
    kept.coming.add(frame);
    void this.smallFrames(asset, kept, [frame], "&ahead=false").finally(() => kept.coming.delete(frame));
  }

  /** What is best shown meanwhile: the exact frame, or the small one nearest before it. */
  nearest(asset: string, frame: number): ImageBitmap | null {
    const kept = this.of(asset);
    const here = kept.exact.get(frame) ?? kept.small.get(frame);
    // A frame that cannot be fetched is not replaced by another.
    if (here || kept.failed.has(frame)) return here ?? null;
    let best: number | null = null;
    for (const one of kept.small.keys())
      if (best === null || Math.abs(one - frame) < Math.abs(best - frame)) best = one;
    return best === null ? null : kept.small.get(best)!;
  }

  has(asset: string, frame: number): boolean {
    const kept = this.clips.get(asset);
    return frame < 0 || Boolean(kept && (kept.small.has(frame) || kept.exact.has(frame) || kept.failed.has(frame)));
  }

  /** Fetch small frames, those named first sooner; what was wanted before and is not named is not fetched any more. */
  want(asset: string, frames: number[], width: number) {
    const kept = this.sized(asset, width);
    kept.wanted = frames.filter((one) => !kept.small.has(one) && !kept.coming.has(one) && !kept.failed.has(one));
    this.fetchSmall(asset, kept);
  }

  get waiting() {
    return [...this.clips.values()].some(
      ({ exactWanted, exactComing }) => exactWanted !== null || exactComing !== null,
    );
  }

  private of(asset: string): Kept {
    const found = this.clips.get(asset) ?? new Kept();
    this.clips.set(asset, found);
    return found;
  }

  /** What is kept of a clip, at the width at which it is seen by now; smaller frames are let go. */
  private sized(asset: string, width: number): Kept {
    const kept = this.of(asset);
    const wide = widthFor(width);
    if (wide > kept.width) {
      for (const frame of [...kept.small.keys()]) this.drop(kept, frame);
      kept.width = wide;
    }
    return kept;
  }

  private drop(kept: Kept, frame: number) {
    const bitmap = kept.small.get(frame);
    if (!bitmap) return;
    this.bytes -= bitmap.width * bitmap.height * 4;
    kept.small.delete(frame);
    bitmap.close();
  }

  private keep(kept: Kept, frame: number, bitmap: ImageBitmap) {
    this.drop(kept, frame);
    kept.small.set(frame, bitmap);
    this.bytes += bitmap.width * bitmap.height * 4;
    for (const other of this.clips.values())
      for (const old of other.small.keys()) {
        if (this.bytes <= SMALL_BYTES) return;
        this.drop(other, old);
      }
  }

  private fetchSmall(asset: string, kept: Kept) {
    while (kept.wanted.length && kept.underWay < UNDER_WAY) {
      const batch = kept.wanted.splice(0, BATCH);
      for (const frame of batch) kept.coming.add(frame);
      kept.underWay += 1;
      void this.smallFrames(asset, kept, batch).finally(() => {
        for (const frame of batch) kept.coming.delete(frame);
        kept.underWay -= 1;
        this.fetchSmall(asset, kept);
        this.arrived();
      });
    }
  }

  private async smallFrames(asset: string, kept: Kept, batch: number[], how = "") {
    const { width } = kept;
    try {
      const response = await fetch(`/api/clips/${asset}/frames?at=${batch.join(",")}&width=${width}${how}`);
      if (!response.ok) throw new Error(`frames: ${response.status}`);
      const blocks = decode(await response.arrayBuffer()) as [number, Uint8Array<ArrayBuffer>][];
      const whole = blocks.filter(([, block]) => block.length);
      this.leaveAlone(
        kept,
        batch.filter((frame) => !whole.some(([one]) => one === frame)),
      );
      const bitmaps = await Promise.all(
        whole.map(async ([frame, block]) => [frame, await createImageBitmap(new Blob([block]))] as const),
      );
      for (const [frame, bitmap] of bitmaps) {
        if (kept.width === width) this.keep(kept, frame, bitmap);
        else bitmap.close();
      }
    } catch {
      this.leaveAlone(kept, batch);
    }
  }

  private async fetchExact(asset: string, kept: Kept) {
    if (kept.exactComing !== null || kept.exactWanted === null) return;
    const frame = kept.exactWanted;
    kept.exactComing = frame;
    kept.exactWanted = null;
    try {
      const response = await fetch(`/api/clips/${asset}/frame?frame=${frame}`);
      if (!response.ok) throw new Error(`frame: ${response.status}`);
      const [width, height] = response.headers.get("X-Size")!.split("x").map(Number);
      const pixels = new ImageData(new Uint8ClampedArray(await response.arrayBuffer()), width, height);
      kept.exact.set(frame, await createImageBitmap(pixels, { colorSpaceConversion: "none" }));
      for (const old of kept.exact.keys()) {
        if (kept.exact.size <= Math.max(Math.floor(EXACT_BYTES / (width * height * 4)), 1)) break;
        kept.exact.get(old)!.close();
        kept.exact.delete(old);
      }
    } catch {
      this.leaveAlone(kept, [frame]);
    }
    kept.exactComing = null;
    if (kept.exactWanted !== null) void this.fetchExact(asset, kept);
    this.arrived();
  }

  private leaveAlone(kept: Kept, frames: number[]) {
    if (!frames.length) return;
    for (const frame of frames) kept.failed.add(frame);
    setTimeout(() => {
      for (const frame of frames) kept.failed.delete(frame);
      this.arrived();
    }, AGAIN);
  }
}
