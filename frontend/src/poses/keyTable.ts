import type { Ease, Facts, Layer, Scene, Track } from "../api/client";
import type { components } from "../api/schema";
import { factsOf, labelOf, placeOf } from "../document/properties";
import { isPlain, keyFrames, SAME, tracksOf } from "../document/tracks";
import { timecode } from "../geometry/times";
import { typed as typedNumber } from "../parts/arithmetic";

type Cell = Required<components["schemas"]["TypedCell"]>;
export type TypedCell = Partial<Cell> & Pick<Cell, "text">;

/** How the times of rows are shown and typed. */
export type TimeAs = "code" | "frames" | "after";

export interface Column {
  what: "time" | "value" | "ease";
  label: string;
  unit: string;
  property: string;
  part: 0 | 1 | null;
  colour: boolean;
}

export interface Key {
  value: unknown;
  ease?: Ease;
}

/** A moment of the layer: its keys by property. One that was typed and has no key yet is `open`. */
export interface Row {
  frame: number;
  keys: Map<string, Key>;
  open: boolean;
}

/** From a cell to a cell, both within: rows and columns, the lower first. */
export interface Range {
  rows: [number, number];
  columns: [number, number];
}

export const MOST_CELLS = 20_000;
/** What every layer has columns for. */
const FIRST = ["position", "position.x", "position.y", "scale", "rotation", "opacity"];

/** Whether a property's values are typed as text: numbers, pairs and colours are, the points of an outline are not. */
const isTyped = (track: Track) => typeof track.rest === "string" || !isPlain(track.rest);

/** What can be keyed in the table, in its order. */
export const typedProperties = (layer: Layer, facts: Facts): string[] =>
  Object.entries(tracksOf(layer))
    .filter(([, track]) => isTyped(track))
    .map(([name]): [string, number] => [name, placeOf(layer, name, facts)])
    .sort(([, a], [, b]) => a - b)
    .map(([name]) => name);

/** The columns of a layer: the time, its motion and what else is keyed or asked for, parts apart, and the easing. */
export function columnsOf(layer: Layer, facts: Facts, typed: string[], asked: string[]): Column[] {
  const tracks = tracksOf(layer);
  const has = (name: string) => FIRST.includes(name) || asked.includes(name) || tracks[name].keys?.length;
  const shown = typed.filter(has);
  const plain = { unit: "", property: "", part: null, colour: false };
  const values = shown.flatMap((property): Column[] => {
    const label = labelOf(layer, property, facts);
    const { unit, parts } = factsOf(layer, property, facts);
    const colour = typeof tracks[property].rest === "string";
    if (parts.length < 2 || colour) return [{ what: "value", label, unit, property, part: null, colour }];
    return parts.map((part, i) => ({
      what: "value",
      label: `${label} ${part}`,
      unit,
      property,
      part: i as 0 | 1,
      colour,
    }));
  });
  return [{ what: "time", label: "Time", ...plain }, ...values, { what: "ease", label: "Easing", ...plain }];
}

/** The rows of a layer, in order of time, with those that were typed and have no key yet. */
export function rowsOf(layer: Layer, open: number[]): Row[] {
  const found = new Map<number, Row>();
  const at = (frame: number) => {
    const place = Math.round(frame / SAME) * SAME;
    const known = found.get(place) ?? { frame, keys: new Map(), open: false };
    found.set(place, known);
    return known;
  };
  for (const [name, track] of Object.entries(tracksOf(layer)))
    keyFrames(layer, track).forEach((frame, i) => {
      at(frame).keys.set(name, track.keys![i] as Key);
    });
  for (const frame of open) {
    const row = at(frame);
    row.open ||= !row.keys.size;
  }
  return [...found.values()].sort((a, b) => a.frame - b.frame);
}

const written = (number: number) => `${Math.round(number * 1000) / 1000}`;

/** What a value is typed as. */
export function valueText(value: unknown, column: Column): string {
  if (column.colour) return `${value}`.replace(/ff$/, "");
  const number = column.part === null ? value : (value as number[])[column.part];
  return typeof number === "number" ? written(number) : "";
}

/** What a row's time is typed as, the row before it given. */
export function timeText(row: Row, before: Row | undefined, as: TimeAs, scene: Scene): string {
  if (as === "code" && row.frame % 1 === 0) return timecode(row.frame, scene);
  if (as === "after" && before) return written(row.frame - before.frame);
  return written(row.frame);
}

/** The easing of a row's keys; null where they differ, undefined where there is none. */
export function easeOfRow(row: Row): Ease | null | undefined {
  const eases = [...row.keys.values()].map(({ ease }) => ease ?? "linear");
  const same = eases.every((ease) => JSON.stringify(ease) === JSON.stringify(eases[0]));
  return same ? eases[0] : null;
}

/** What is typed into a cell of a row, as the core takes it. */
export function cellOf(row: Row, column: Column, as: TimeAs, text: string): TypedCell {
  if (column.what === "time") return { column: as === "after" ? "after" : "time", frame: row.frame, text };
  if (column.what === "ease") return { column: "ease", frame: row.frame, text };
  return { column: "value", frame: row.frame, property: column.property, part: column.part, text };
}

/** Whether what is typed so far is a value already, so that the stage may show it. */
export function isWhole(column: Column, text: string): boolean {
  if (column.what !== "value") return false;
  return column.colour ? /^#?([0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})$/i.test(text.trim()) : typedNumber(text) !== null;
}

/** What was copied of a spreadsheet, row by row; the quotes of cells with line breaks go. */
export function pastedRows(text: string): string[][] {
  const cell = /(?:"((?:[^"]|"")*)"|([^\t\r\n]*))(\t|\r\n|\r|\n|$)/y;
  const rows: string[][] = [[]];
  while (cell.lastIndex < text.length) {
    const found = cell.exec(text);
    if (!found) break;
    rows.at(-1)!.push(found[1]?.replaceAll('""', '"') ?? found[2]);
    if (found[3] !== "\t" && cell.lastIndex < text.length) rows.push([]);
    if (found[3] === "\t" && cell.lastIndex === text.length) rows.at(-1)!.push("");
  }
  return rows;
}

/** Cells as a spreadsheet takes them. */
export const copied = (rows: string[][]) => rows.map((row) => row.join("\t")).join("\n");

/**
 * What a block of texts is, laid down from a cell on: one text fills the whole range. Rows beyond the last one are new:
 * their times are in the block's first column, which must then be the time. In words where it cannot be laid down.
 */
export function pastedCells(
  block: string[][],
  { rows: [top, bottom], columns: [left, right] }: Range,
  rows: Row[],
  columns: Column[],
  as: TimeAs,
): TypedCell[] | string {
  if (block.length === 1 && block[0].length === 1) {
    const [[text]] = block;
    const inside = rows.slice(top, bottom + 1);
    return inside.flatMap((row) => columns.slice(left, right + 1).map((column) => cellOf(row, column, as, text)));
  }
  const wide = Math.max(...block.map((row) => row.length));
  if (block.length * wide > MOST_CELLS)
    return `What was copied has ${block.length * wide} cells, and ${MOST_CELLS} are taken at once.`;
  if (left + wide > columns.length)
    return `What was copied is ${wide} columns wide, and ${columns.length - left} are there from here on.`;
  if (top + block.length > rows.length && (left > 0 || as === "after"))
    return `What was copied has ${block.length} rows, and ${rows.length - top} are there from here on. To add rows, paste from the column of times on, shown as times or frames.`;
  const cells: TypedCell[] = [];
  block.forEach((texts, i) => {
    const row = rows[top + i];
    // One without a key stands where its time says, which is pasted with it.
    const fresh = left === 0 && as !== "after" && (!row || row.open);
    texts.forEach((text, j) => {
      const column = columns[left + j];
      if (!fresh) cells.push(cellOf(row, column, as, text));
      else if (column.what !== "time" && text.trim())
        cells.push({ ...cellOf({ frame: 0, keys: new Map(), open: true }, column, as, text), at: texts[0] });
    });
  });
  // An easing that is not told stays as it is.
  return cells.filter(({ column, text }) => column === "value" || text.trim());
}
