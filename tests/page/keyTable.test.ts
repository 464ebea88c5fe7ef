import type { Layer, Scene } from "../../frontend/src/api/client";
import { cellOf, columnsOf, copied, isWhole, pastedCells, pastedRows, rowsOf, timeText, typedProperties, valueText } from "../../frontend/src/poses/keyTable";

const track = (rest: unknown, ...keys: [number, unknown, string?][]) => ({
  rest,
  keys: keys.map(([frame, value, ease]) => ({ frame, value, ease: ease ?? "linear" })),
});
const layer = {
  id: "plate", name: "Plate", span: { start: 5, length: 50 },
  content: { kind: "shape", items: [{ shape: "rectangle", size: track([200, 100]), fill: track("#d9482fff", [0, "#0e3f45ff"]) }] },
  anchor: track([0.5, 0.5]), position: track([0, 0], [0, [10, 20]], [12, [30, 40], "hold"]), scale: track([100, 100]),
  rotation: track(0, [12, 7.25]), opacity: track(100),
} as unknown as Layer;
const pair = { label: "", noun: "", told: false, unit: "px", parts: ["x", "y"], role: "", step: 1, linked: false, low: null, high: null };
const named = (label: string, parts = [""]) => ({ ...pair, label, parts });
const facts = {
  tags: ["kind", "shape"],
  properties: {
    position: named("Position", ["x", "y"]), scale: named("Scale", ["x", "y"]), rotation: named("Rotation"),
    opacity: named("Opacity"), anchor: named("Anchor", ["x", "y"]),
    "content:shape.items:rectangle.size": named("Size", ["w", "h"]), "content:shape.items:rectangle.fill": named("Fill"),
  },
} as never;
const scene = { frame_rate: [30, 1] } as unknown as Scene;
const properties = typedProperties(layer, facts);
const columns = columnsOf(layer, facts, properties, []);
const rows = rowsOf(layer, [30, 17]);
const labels = (asked: string[]) => columnsOf(layer, facts, properties, asked).map(({ label }) => label);

test("a layer has columns for its motion, what is keyed, and what was asked for, parts apart", () => {
  const motion = ["Position x", "Position y", "Scale x", "Scale y", "Rotation", "Opacity"];
  expect(labels([])).toEqual(["Time", ...motion, "Fill", "Easing"]);
  expect(labels(["anchor"])).toContain("Anchor y");
});

test("rows are the moments with keys and those that were typed; texts are as they are typed", () => {
  expect(rows.map(({ frame, open }) => [frame, open])).toEqual([[5, false], [17, false], [30, true]]);
  expect(rows.map((row, i) => timeText(row, rows[i - 1], "code", scene))).toEqual(["0:05", "0:17", "1:00"]);
  expect(rows.map((row, i) => timeText(row, rows[i - 1], "after", scene))).toEqual(["5", "12", "13"]);
  expect(valueText(rows[1].keys.get("position")!.value, columns[2])).toBe("40");
  expect(valueText("#0e3f45ff", columns[7])).toBe("#0e3f45");
  expect(cellOf(rows[1], columns[2], "code", "+3")).toEqual({ column: "value", frame: 17, property: "position", part: 1, text: "+3" });
  expect([isWhole(columns[1], "12 px"), isWhole(columns[1], "1."), isWhole(columns[7], "fb4"), isWhole(columns[8], "hold")])
    .toEqual([true, false, true, false]);
});

test("what a spreadsheet copies is read row by row", () => {
  expect(pastedRows("1\t2\r\n3\t\r\n")).toEqual([["1", "2"], ["3", ""]]);
  expect(pastedRows('"a\nb"\t"say ""x"""\n5')).toEqual([["a\nb", 'say "x"'], ["5"]]);
  expect(pastedRows("7")).toEqual([["7"]]);
  expect(pastedRows("\t1")).toEqual([["", "1"]]);
  expect(pastedRows(copied([["1", ""], ["", "4"]]))).toEqual([["1", ""], ["", "4"]]);
});

test("one text fills what is selected; a block goes on from the first cell, with new rows by their times", () => {
  const at = (top: number, left: number, bottom = top, right = left) => ({ rows: [top, bottom], columns: [left, right] }) as never;
  const laid = (text: string, range: never, as = "code" as const) => pastedCells(pastedRows(text), range, rows, columns, as);
  expect(laid("5", at(0, 1, 1, 2))).toHaveLength(4);
  expect(laid("5\t6\n7\t8", at(0, 1))).toMatchObject([
    { frame: 5, part: 0, text: "5" }, { frame: 5, part: 1, text: "6" }, { frame: 17, part: 0, text: "7" }, { frame: 17, part: 1, text: "8" },
  ]);
  expect(laid("1:05\t9\n2:00\t10", at(2, 0))).toMatchObject([
    { column: "value", at: "1:05", text: "9" }, { column: "value", at: "2:00", text: "10" },
  ]);
  expect(laid("1\n2\n3\n4", at(0, 1))).toMatch(/4 rows, and 3 are there/);
  expect(laid("1\t2\t3", at(0, 7))).toMatch(/3 columns wide, and 2/);
  expect(laid("1\t2\n".repeat(10_001), at(0, 0))).toMatch(/20002 cells/);
});
