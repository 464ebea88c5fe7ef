import { type Group, type LayerArrays, row } from "../api/arrays";
import type { Sheets } from "./sheets";
import type { PictureSource } from "./sources";

/** Bytes of canvases that are kept at most. */
const MOST = 160_000_000;

interface Kept {
  layer: LayerArrays;
  /** The columns of all that it is made of that change; null where it is never kept, since films lie in it. */
  moving: number[] | null;
  sources: string[];
  state: Float32Array | null;
  place: string;
  sheet: CanvasRenderingContext2D | null;
}

/** Sheets that effects have run on, kept while nothing that they are made of changes; those used longest ago go first. */
export class KeptSheets {
  private readonly known = new WeakMap<Group, Kept>();
  /** Those that have a sheet, the one used longest ago first. */
  private readonly held = new Set<Kept>();
  private bytes = 0;

  constructor(
    private readonly sheets: Sheets,
    private readonly pictures: PictureSource,
  ) {}

  /** What effects made of a group, where all that it is made of is as it was then. */
  find(layer: LayerArrays, group: Group, frame: number, place: string): CanvasRenderingContext2D | null {
    const kept = this.of(layer, group);
    if (!kept.sheet || !kept.moving || kept.place !== place) return null;
    const now = stateOf(layer, kept.moving, frame);
    if (!kept.state?.every((number, i) => number === now[i])) return null;
    this.held.delete(kept);
    this.held.add(kept);
    return kept.sheet;
  }

  /** Keep what effects made of a group; whether it is kept, and not to be painted on any more. */
  keep(layer: LayerArrays, group: Group, frame: number, place: string, sheet: CanvasRenderingContext2D): boolean {
    const kept = this.of(layer, group);
    this.letGo(kept);
    if (!kept.moving || kept.sources.some((source) => !this.pictures.get(source))) return false;
    Object.assign(kept, { state: stateOf(layer, kept.moving, frame), place, sheet });
    this.bytes += sizeOf(sheet);
    for (const old of this.held) {
      if (this.bytes <= MOST) break;
      this.letGo(old);
    }
    this.held.add(kept);
    return true;
  }

  private of(layer: LayerArrays, group: Group): Kept {
    const known = this.known.get(group);
    if (known?.layer === layer) return known;
    if (known) this.letGo(known);
    const columns = new Set<number>();
    const sources = new Set<string>();
    const films = walk(group, columns, sources);
    const moving = films ? null : [...columns].filter((column) => layer.columns[column]?.rows > 1);
    const kept: Kept = { layer, moving, sources: [...sources], state: null, place: "", sheet: null };
    this.known.set(group, kept);
    return kept;
  }

  private letGo(kept: Kept) {
    if (!kept.sheet) return;
    this.held.delete(kept);
    this.bytes -= sizeOf(kept.sheet);
    this.sheets.free(kept.sheet);
    kept.sheet = null;
  }
}

const sizeOf = ({ canvas }: CanvasRenderingContext2D) => canvas.width * canvas.height * 4;

const stateOf = (layer: LayerArrays, columns: number[], frame: number) =>
  Float32Array.from(columns.flatMap((column) => [...row(layer, column, frame)]));

/** Every column and every picture of an operation; whether a film lies in it. */
function walk(part: unknown, columns: Set<number>, sources: Set<string>): boolean {
  if (typeof part === "number") columns.add(part);
  if (!part || typeof part !== "object") return false;
  let films = false;
  for (const [name, inner] of Object.entries(part)) {
    if (name === "source") sources.add(inner as string);
    if ("op" in part && part.op === "image" && name === "frame" && inner !== null) films = true;
    films = walk(inner, columns, sources) || films;
  }
  return films;
}
