import { Clips } from "./clips";
import type { PictureSource } from "./sources";

/** How long a picture that could not be fetched is left alone, in milliseconds. */
const AGAIN = 4_000;

/** So many pixels of pictures are kept, and more while they are painted; those not painted for this long may go, in milliseconds. */
const MOST_PIXELS = 100_000_000;
const UNUSED = 10_000;

/** Pictures by asset, decoded as both painters read them: no colour conversion, sRGB numbers as stored. */
export class Pictures implements PictureSource {
  private readonly found = new Map<string, ImageBitmap | "coming" | "failed">();

  /** When each was painted last. */
  private readonly used = new Map<string, number>();

  readonly clips: Clips;

  constructor(private readonly arrived: () => void) {
    this.clips = new Clips(arrived);
  }

  get(asset: string): ImageBitmap | null {
    if (!this.found.has(asset)) void this.fetch(asset);
    const found = this.found.get(asset);
    if (!(found instanceof ImageBitmap)) return null;
    this.used.set(asset, performance.now());
    return found;
  }

  /** Let go of pictures that were not painted for a while, as long as there are too many pixels. */
  private letGo() {
    const kept = [...this.found].filter((one): one is [string, ImageBitmap] => one[1] instanceof ImageBitmap);
    let pixels = kept.reduce((sum, [, { width, height }]) => sum + width * height, 0);
    const when = ([asset]: [string, ImageBitmap]) => this.used.get(asset) ?? 0;
    for (const [asset, bitmap] of kept.sort((a, b) => when(a) - when(b))) {
      if (pixels <= MOST_PIXELS || performance.now() - (this.used.get(asset) ?? 0) < UNUSED) return;
      pixels -= bitmap.width * bitmap.height;
      this.found.delete(asset);
      this.used.delete(asset);
      bitmap.close();
    }
  }

  private async fetch(asset: string) {
    this.found.set(asset, "coming");
    try {
      const response = await fetch(`/api/pictures/${asset}/file`);
      if (!response.ok) throw new Error(`picture: ${response.status}`);
      const bitmap = await createImageBitmap(await response.blob(), { colorSpaceConversion: "none" });
      this.found.set(asset, bitmap);
      this.used.set(asset, performance.now());
      this.letGo();
    } catch {
      this.found.set(asset, "failed");
      setTimeout(() => {
        this.found.delete(asset);
        this.arrived();
      }, AGAIN);
    }
    this.arrived();
  }

  get waiting() {
    return this.clips.waiting || [...this.found.values()].includes("coming");
  }
}
