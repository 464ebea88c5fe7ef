/** Shares of the size at which it is seen that what plays is painted at, one after another, where it takes too long. */
const SHARES = [1, 0.75, 0.5];

/** Frames of which so many may take longer than they last. */
const LOOKED_AT = 8;
const MOST_LATE = 3;

/** After so many frames in a row that took less than this share of their time it is painted finer again. */
const QUICK = 45;
const EASY = 0.4;

/**
 * How coarsely a scene that plays is painted, so that no frame is left out: coarser while painting takes longer than a
 * frame lasts, finer again once it takes much less. At rest it is as fine as it is seen; playing goes on as it was.
 */
export class Pace {
  private level = 0;
  private late: boolean[] = [];
  private quick = 0;
  private told = 1;

  /** `coarsen` is told the share from then on. */
  constructor(private readonly coarsen: (share: number) => void) {}

  /** The share of the size at which it is seen that what plays is painted at. */
  get share(): number {
    return SHARES[this.level];
  }

  /** A frame that lasts so many milliseconds is about to be painted; the display's next frame tells how long it took. */
  painted(lasts: number) {
    this.tell(this.share);
    const begin = performance.now();
    requestAnimationFrame(() => this.took(performance.now() - begin, lasts));
  }

  /** Painting a frame took so long. */
  took(time: number, lasts: number) {
    this.late = [...this.late.slice(1 - LOOKED_AT), time > lasts];
    this.quick = time < EASY * lasts ? this.quick + 1 : 0;
    const slow = this.late.filter(Boolean).length >= MOST_LATE;
    const next = slow
      ? Math.min(this.level + 1, SHARES.length - 1)
      : this.quick >= QUICK
        ? Math.max(this.level - 1, 0)
        : this.level;
    if (next === this.level) return;
    this.level = next;
    this.late = [];
    this.quick = 0;
    this.tell(this.share);
  }

  /** It plays no more. */
  rest() {
    this.late = [];
    this.quick = 0;
    this.tell(1);
  }

  private tell(share: number) {
    if (share === this.told) return;
    this.told = share;
    this.coarsen(share);
  }
}
