import type { Layer } from "../../frontend/src/api/client";
import { fits, isFiltered } from "../../frontend/src/lanes/laneFilter";

const track = (...frames: number[]) => ({ rest: 0, keys: frames.map((frame) => ({ frame, value: 0 })) });
const layer = (name: string, more: object = {}) =>
  ({
    id: name, name, span: { start: 10, length: 20 }, content: {}, anchor: track(), position: track(), scale: track(),
    rotation: track(), opacity: track(), ...more,
  }) as unknown as Layer;
const layers = [layer("Low tide"), layer("Tideline", { rotation: track(3) }), layer("Sun", { carrier: "Tideline" })];
const found = (words: string, only = "all", selected: string[] = [], frame = 0) =>
  layers
    .filter((one) => fits(one, { words, only } as never, { selected, frame, kind: ({ name }) => (name === "Sun" ? "ellipse" : "text") }))
    .map(({ name }) => name);

test("layers are found by the beginnings of words of their names and kinds", () => {
  expect(found("")).toEqual(["Low tide", "Tideline", "Sun"]);
  expect(found("tide")).toEqual(["Low tide", "Tideline"]);
  expect(found("TIDE lo ")).toEqual(["Low tide"]);
  expect(found("ell")).toEqual(["Sun"]);
  expect(found("ide")).toEqual([]);
});

test("and by what they do, what is selected of them, and whether they are there", () => {
  expect(found("", "keyed")).toEqual(["Tideline"]);
  expect(found("", "carried")).toEqual(["Sun"]);
  expect(found("", "selected", ["Sun/0", "Low tide"])).toEqual(["Low tide", "Sun"]);
  expect([9, 10, 29, 30].map((frame) => found("sun", "here", [], frame).length)).toEqual([0, 1, 1, 0]);
  expect([isFiltered({ words: " ", only: "all" }), isFiltered({ words: "", only: "here" })]).toEqual([false, true]);
});
