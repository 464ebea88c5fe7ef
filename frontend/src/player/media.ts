import type { ClipSource, PictureSource } from "../paint/sources";
import { bytesOf, type Scene } from "./shipped";

/** Frames of clips that are decoded ahead, and that are kept. */
const AHEAD = 10;
const KEPT = 40;

/** The pictures and the frames of clips that a page holds, decoded as they are needed. */
export class PageMedia implements PictureSource, ClipSource {
  private readonly found = new Map<string, ImageBitmap>();
  private readonly coming = new Map<string, Promise<void>>();
  private frames: string[] = [];

  constructor(private readonly scene: Scene) {}

  readonly clips: ClipSource = this;

  get(asset: string): ImageBitmap | null {
    return this.found.get(asset) ?? null;
  }

  exact(asset: string, frame: number): ImageBitmap | null {
    return this.found.get(`${asset}/${frame}`) ?? null;
  }

  small = (asset: string, frame: number) => this.exact(asset, frame);
  isComing = () => false;
  inRow = () => false;

  nearest(asset: string): ImageBitmap | null {
    const last = this.frames.filter((key) => key.startsWith(`${asset}/`)).pop();
    return last ? (this.found.get(last) ?? null) : null;
  }

  /** All pictures are here. */
  async pictures(): Promise<void> {
    await Promise.all(Object.entries(this.scene.pictures).map(([asset, number]) => this.decode(asset, number)));
  }

  /** The frames of clips that are shown at a frame of the scene are here; those after it are on their way. */
  async ready(wanted: (frame: number) => [string, number][], frame: number): Promise<void> {
    for (let ahead = 1; ahead <= AHEAD; ahead++)
      for (const [asset, index] of wanted(Math.min(frame + ahead, this.scene.count - 1))) void this.frame(asset, index);
    await Promise.all(wanted(frame).map(([asset, index]) => this.frame(asset, index)));
  }

  private async frame(asset: string, index: number): Promise<void> {
    const key = `${asset}/${index}`;
    const number = this.scene.clips[asset]?.[index];
    if (number === undefined) return;
    this.frames = [...this.frames.filter((one) => one !== key), key];
    await this.decode(key, number);
    while (this.frames.length > KEPT) {
      const gone = this.frames.shift()!;
      this.found.get(gone)?.close();
      this.found.delete(gone);
    }
  }

  private decode(key: string, number: number): Promise<void> {
    if (this.found.has(key)) return Promise.resolve();
    const under = this.coming.get(key) ?? this.decoded(key, number);
    this.coming.set(key, under);
    return under;
  }

  private async decoded(key: string, number: number): Promise<void> {
    const bitmap = await createImageBitmap(await bytesOf(`media-${number}`), { colorSpaceConversion: "none" });
    this.found.set(key, bitmap);
    this.coming.delete(key);
  }
}
