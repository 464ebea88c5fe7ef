import type { Column, LayerArrays } from "../api/arrays";
import { PIECE } from "../document/frames";
import type { Session } from "../session/session";

/** What a lane draws: per axis one number a frame over frames first…, and the range that fits it. */
export interface Samples {
  first: number;
  axes: (number | null)[][];
  ranges: [number, number][];
}

/** Values of a property over some frames from the resolved arrays; or its speeds, in units a second; or what it is
 * without its formula. */
export function samplesOf(
  session: Session,
  layer: string,
  name: string,
  [first, stop]: [number, number],
  show: "value" | "speed" | "base",
): Samples {
  const { frames } = session;
  const axes: (number | null)[][] = [];
  for (let from = first; from < stop; ) {
    const end = Math.min((Math.floor(from / PIECE) + 1) * PIECE, stop);
    const arrays = frames.layer(layer, from);
    if (!arrays) frames.look(from);
    const column = arrays && columnOf(arrays, name, show);
    while (column && axes.length < column.width) axes.push(new Array(from - first).fill(null));
    axes.forEach((axis, i) => {
      for (let frame = from; frame < end; frame++) {
        const row = column && column.rows > 1 ? frame - arrays!.from : 0;
        axis.push(column ? (column.data[row * column.width + i] ?? null) : null);
      }
    });
    from = end;
  }
  return { first, axes, ranges: axes.map(rangeOf) };
}

function columnOf(arrays: LayerArrays, name: string, show: "value" | "speed" | "base"): Column | undefined {
  if (show === "base") return name in arrays.bases ? arrays.columns[arrays.bases[name]] : undefined;
  if (!(name in arrays.values)) return undefined;
  const values = arrays.columns[arrays.values[name]];
  if (show === "value") return values;
  if (name in arrays.speeds) return arrays.columns[arrays.speeds[name]];
  // What does not change stands still.
  return values.rows === 1 ? { width: values.width, rows: 1, data: new Float32Array(values.width) } : undefined;
}

function rangeOf(axis: (number | null)[]): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const n of axis)
    if (n !== null) {
      low = Math.min(low, n);
      high = Math.max(high, n);
    }
  return [low, high];
}

/** How the values of an axis lie on a lane of a height: `place` takes one to its y, `per` is pixels for 1. */
export function fitted([low, high]: [number, number], height: number) {
  const margin = height > 60 ? 24 : 5;
  const flat = !(high > low);
  const per = flat ? 0 : (height - 2 * margin) / (high - low);
  return { per, place: (value: number) => (flat ? height / 2 : height - margin - (value - low) * per) };
}
