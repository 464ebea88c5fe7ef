/** Frames of clips, for painters. */
export interface ClipSource {
  /** The exact frame, or null until it is here. */
  exact(asset: string, frame: number): ImageBitmap | null;
  /** A frame as wide as it is seen, or null until it is here. */
  small(asset: string, frame: number, width: number): ImageBitmap | null;
  /** Whichever frame is here and lies nearest. */
  nearest(asset: string, frame: number): ImageBitmap | null;
  isComing(asset: string, frame: number): boolean;
  /** Whether exact frames are wanted one after another, faster than they come. */
  inRow(asset: string): boolean;
}

/** Where painters have their pictures from. */
export interface PictureSource {
  get(asset: string): ImageBitmap | null;
  readonly clips: ClipSource;
}
