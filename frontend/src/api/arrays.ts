import { decode } from "@msgpack/msgpack";
import { renew } from "./renew";
import type { components } from "./schema";
import { WIRE } from "./wire";

/** A column of float32: `data` holds rows of `width` numbers, one row a frame, or a single row for all frames. */
export interface Column {
  width: number;
  rows: number;
  data: Float32Array;
}

/** What both painters share; numbers are columns of the layer. See `core/draw/operations.py`. */
type Schemas = components["schemas"];
export type Operation = Schemas["Operation"];
export type Group = Schemas["GroupOperation"];
export type PathOperation = Schemas["PathOperation"];
export type GlyphsOperation = Schemas["GlyphsOperation"];
export type ImageOperation = Schemas["ImageOperation"];
export type MaskPath = Schemas["MaskPath"];
export type Effects = Schemas["EffectsOperation"];
export type Matte = Schemas["MatteOperation"];
export type GradientPaint = Schemas["GradientPaint"];

/** A colour, by its column, or a gradient. */
export type Paint = NonNullable<PathOperation["fill"]>;

/** A layer, or a shape within one, resolved for the frames from…to (not included); numbers point into `columns`. */
export interface LayerArrays {
  from: number;
  to: number;
  group: Group;
  columns: Column[];
  values: Record<string, number>;
  /** How fast properties change, in their unit a second, where it was asked for; none for those that do not change. */
  speeds: Record<string, number>;
  /** What the properties with formulas are without them. */
  bases: Record<string, number>;
  visible: number;
  matrix: number;
  /** What masks and crop leave of `content`, the box of what the layer shows. */
  box: number;
  content: number;
  /** The matrix of the content, its framing counted in, to the scene. */
  inner: number;
  anchor: number;
  fraction: number;
  /** The baselines of a text's lines, in content pixels; no numbers for other contents. */
  baselines: number;
  /** What is wrong with the formulas of its properties, by their names. */
  problems: Record<string, string>;
  /** The layer that carries it: its numbers are in that layer's pixels. */
  carrier: string | null;
  /** The frames of its source, −1 where it shows none; null where it has no source. */
  source: number | null;
}

export interface Outline {
  verbs: string;
  numbers: Float32Array;
}

export interface ResolvedMessage {
  type: "resolved" | "tried";
  seq?: number;
  revision: number;
  notices?: string[];
  from: number;
  to: number;
  order: string[];
  layers: Record<string, LayerArrays>;
  outlines: Record<string, Outline>;
}

export interface ProblemMessage {
  type: "problem";
  seq: number;
  detail: string;
  where: string;
  mend: string;
}

/** A scene that lies in this one changed. */
export interface InnerMessage {
  type: "inner";
  scene: string;
}

export interface RevisionMessage {
  type: "revision";
  revision: number;
  client: string;
  said: string;
}

/** What recipes would make of a layer, each as a message of its own, and those that cannot, with the reason. */
export interface RecipesMessage {
  items: Map<string, ResolvedMessage>;
  refused: Map<string, string>;
}

export function unpackRecipes(buffer: ArrayBuffer): RecipesMessage {
  const raw = decode(new Uint8Array(buffer)) as { items: Record<string, Uint8Array>; refused: Record<string, string> };
  const items = Object.entries(raw.items).map(
    ([name, bytes]) => [name, unpack(bytes.slice().buffer) as ResolvedMessage] as const,
  );
  return { items: new Map(items), refused: new Map(Object.entries(raw.refused)) };
}

/** What a shape within a layer has of its own; the rest is the layer's. */
type RawItem = Pick<
  LayerArrays,
  "values" | "visible" | "matrix" | "box" | "content" | "inner" | "anchor" | "fraction" | "baselines"
>;
type RawLayer = Omit<LayerArrays, "columns" | "from" | "to"> & {
  columns: [number, Uint8Array][];
  items: Record<string, RawItem>;
};

const floats = (bytes: Uint8Array) => new Float32Array(bytes.slice().buffer);

export function unpack(buffer: ArrayBuffer): ResolvedMessage | ProblemMessage | RevisionMessage | InnerMessage {
  const raw = decode(new Uint8Array(buffer)) as { type: string } & Record<string, unknown>;
  if (raw.type !== "resolved" && raw.type !== "tried")
    return raw as unknown as ProblemMessage | RevisionMessage | InnerMessage;
  if (raw.wire !== WIRE) {
    renew();
    throw new Error("The server is of another version than this page. Close the page, and open it again.");
  }
  const message = raw as unknown as ResolvedMessage;
  const layers: Record<string, LayerArrays> = {};
  for (const [id, layer] of Object.entries(raw.layers as Record<string, RawLayer>)) {
    const columns = layer.columns.map(([width, bytes]) => {
      const data = floats(bytes);
      return { width, rows: width ? data.length / width : 1, data };
    });
    const { items, ...own } = layer;
    layers[id] = { ...own, columns, from: message.from, to: message.to };
    // A shape within a layer is known by its address, and its numbers lie in the layer's columns.
    for (const [address, item] of Object.entries(items))
      layers[address] = { ...layers[id], speeds: {}, bases: {}, problems: {}, carrier: null, ...item };
  }
  const outlines: Record<string, Outline> = {};
  for (const [name, [verbs, bytes]] of Object.entries(raw.outlines as Record<string, [string, Uint8Array]>)) {
    outlines[name] = { verbs, numbers: floats(bytes) };
  }
  return { ...message, layers, outlines };
}

/** The numbers of a column at a scene frame. */
export function row(layer: LayerArrays, column: number, frame: number): Float32Array {
  const { width, rows, data } = layer.columns[column];
  const index = rows > 1 ? Math.min(Math.max(frame - layer.from, 0), rows - 1) : 0;
  return data.subarray(index * width, index * width + width);
}
