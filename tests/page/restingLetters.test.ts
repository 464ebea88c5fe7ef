import { beforeEach, expect, test, vi } from "vitest";
import { RestingLetters } from "../../frontend/src/paint/restingLetters";

/** Which letters were painted on the canvas that is kept, fill by fill. */
let fills: string[][];

beforeEach(() => {
  fills = [];
  class FakePath {
    names: string[] = [];
    addPath(other: unknown) {
      this.names.push(other as string);
    }
  }
  vi.stubGlobal("Path2D", FakePath);
  const sheet = { setTransform() {}, fill: (path: FakePath) => fills.push(path.names) };
  vi.stubGlobal("document", { createElement: () => ({ getContext: () => sheet }) });
});

const on = (place: number) => {
  const matrix = { a: place, b: 0, c: 0, d: place, e: 0, f: 0 };
  const canvas = { width: 90, height: 50 };
  return { canvas, getTransform: () => matrix, save() {}, restore() {}, setTransform() {}, drawImage() {} } as never;
};
const letters = ["a", "b", "c"];
const lying = (...there: number[]) =>
  new Float32Array(
    letters.flatMap((_, i) =>
      there[i] === undefined || there[i] < 0 ? [0, 0, 0, 0, 0, 0] : [1, 0, 0, 1, there[i], 0],
    ),
  );
const glyph = (name: string) => name as never;

test("only letters that have come to rest are painted; all where one lies elsewhere, or anything else differs", () => {
  const kept = new RestingLetters();
  const draw = (matrices: Float32Array, ink = "#000", place = 1) => kept.draw(on(place), letters, matrices, ink, glyph);
  expect(draw(lying(4))).toBe(true);
  expect(draw(lying(4, 9))).toBe(true);
  expect(draw(lying(4, 9))).toBe(true);
  expect(fills).toEqual([["a"], ["b"], []]);
  draw(lying(5, 9));
  draw(lying(5, 9), "#fff");
  draw(lying(5, 9, 20), "#fff");
  draw(lying(5, 9, 20), "#fff", 2);
  expect(fills.slice(3)).toEqual([["a", "b"], ["a", "b"], ["c"], ["a", "b", "c"]]);
  draw(lying(-1, 9, 20), "#fff", 2);
  expect(fills.at(-1)).toEqual(["b", "c"]);
});

test("what gains nothing is left for a while", () => {
  const kept = new RestingLetters();
  const drawn = Array.from({ length: 40 }, (_, i) => kept.draw(on(1), letters, lying(i, i, i), "#000", glyph));
  expect(drawn.slice(0, 5)).toEqual([true, true, true, false, false]);
  expect(drawn.slice(5, 34).some(Boolean)).toBe(false);
  expect(drawn[34]).toBe(true);
});
