import type { Group, LayerArrays, Outline } from "../api/arrays";

/** When a page begins to play: at once, by a press, while the pointer is over it, or as far as it is scrolled. */
export type Starts = "at once" | "press" | "hover" | "scroll";

/** What a page holds of its scene; `export/writers/web_page.py` writes it. */
interface Shipped {
  name: string;
  size: [number, number];
  rate: [number, number];
  count: number;
  scale: number;
  background: string;
  starts: Starts;
  /** How often it plays; 0 is without end. */
  plays: number;
  /** Columns are a width, how many rows, and where they begin among the numbers. */
  layers: { group: Group; reach: number | null; columns: [number, number, number][] }[];
  /** Verbs, and where the numbers of their points begin and end. */
  outlines: Record<string, [string, number, number]>;
  /** The parts of the page (by their numbers) that hold pictures, and the frames of clips. */
  pictures: Record<string, number>;
  clips: Record<string, Record<string, number>>;
  sound: number | null;
}

export interface Scene extends Omit<Shipped, "layers" | "outlines"> {
  layers: LayerArrays[];
  /** Of each layer the column of left, top, right, bottom beyond which nothing of it is painted; null for all. */
  reach: (number | null)[];
  outlines: Map<string, Outline>;
}

const part = (id: string) => document.getElementById(id)!;

/** A part of the page that holds bytes. */
export async function bytesOf(id: string): Promise<Blob> {
  const { type, text } = part(id) as HTMLScriptElement;
  return (await fetch(`data:${type};base64,${text.trim()}`)).blob();
}

/** Gives blocks of numbers as they were before they were packed (`packed` in `export/writers/web_page.py`). */
function blocksOf(bytes: Uint8Array) {
  const count = bytes.length / 4;
  const steps = new Int32Array(count);
  for (let i = 0; i < count; i++)
    steps[i] = bytes[i] | (bytes[count + i] << 8) | (bytes[2 * count + i] << 16) | (bytes[3 * count + i] << 24);
  const known = new Map<number, Float32Array>();
  return (width: number, rows: number, at: number) => {
    const found = known.get(at);
    if (found && found.length === width * rows) return found;
    const numbers = new Int32Array(width * rows);
    for (let column = 0; column < width; column++)
      for (let row = 0, sum = 0; row < rows; row++) {
        sum = (sum + steps[at + column * rows + row]) | 0;
        numbers[row * width + column] = sum;
      }
    const block = new Float32Array(numbers.buffer);
    known.set(at, block);
    return block;
  };
}

/** The scene of this page: a length, that many bytes of JSON, and all numbers. */
export async function shipped(): Promise<Scene> {
  const packed = (await bytesOf("scene")).stream().pipeThrough(new DecompressionStream("gzip"));
  const buffer = await new Response(packed).arrayBuffer();
  const [long] = new Uint32Array(buffer, 0, 1);
  const told: Shipped = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, long)));
  const block = blocksOf(new Uint8Array(buffer, 4 + long));
  const layers = told.layers.map(({ group, columns }) => ({
    group,
    from: 0,
    to: told.count,
    columns: columns.map(([width, rows, at]) => ({ width, rows, data: block(width, rows, at) })),
  }));
  const outlines = new Map(
    Object.entries(told.outlines).map(([name, [verbs, begin, end]]) => [
      name,
      { verbs, numbers: block(end - begin, 1, begin) },
    ]),
  );
  return { ...told, layers: layers as unknown as LayerArrays[], reach: told.layers.map((one) => one.reach), outlines };
}
