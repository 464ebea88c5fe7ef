import { expect, test } from "vitest";
import type { Entry } from "../../frontend/src/find/command";
import { ranked, score, sentence } from "../../frontend/src/find/ranked";

const entry = (name: string, words = "", kind = "command"): Entry => ({ kind, name, words, run: () => {} });
const names = (typed: string, entries: Entry[], used = {}) => ranked(entries, typed, used).map(({ name }) => name);

test("all words of what is typed are found, those of the name before others", () => {
  const all = [entry("Rotation", "", "property"), entry("endless spin"), entry("Split here"), entry("Opacity")];
  expect(names("spin", all)).toEqual(["endless spin", "Rotation"]);
  expect(names("see-through", all)).toEqual(["Opacity"]);
  expect(names("sp he", all)).toEqual(["Split here"]);
  expect(names("spin nothing", all)).toEqual([]);
  expect(names("", all)).toHaveLength(4);
});

test("of those that are alike the ones that are used more often come first", () => {
  const all = [entry("Copy the look"), entry("Copy the keys")];
  expect(names("copy", all, { "command Copy the keys": 3 })[0]).toBe("Copy the keys");
  expect(names("", all, { "command Copy the keys": 1 })[0]).toBe("Copy the keys");
  expect(names("copy the look", all, { "command Copy the keys": 50 })[0]).toBe("Copy the look");
});

test("one of 5,000 layers is found by its number", () => {
  const all = Array.from({ length: 5_000 }, (_, i) => entry(`Bar ${i}`, "", "layer"));
  expect(names("bar 4321", all)[0]).toBe("Bar 4321");
  expect(score(entry("Bar 1"), ["2"])).toBe(0);
});

test.each([
  ["rotation 45", "rotation", ["45"], null],
  ["rotation -90 @ +12", "rotation", ["-90"], "+12"],
  ["Text size 120px@1:10", "text size", ["120px"], "1:10"],
  ["position 40 -60 @", "position", ["40", "-60"], ""],
  ["scale *1.5", "scale", ["*1.5"], null],
  ["size of shape 2 80", "size of shape", ["2", "80"], null],
  ["fill #f2b544", "fill", ["#f2b544"], null],
])("“%s” is read as a sentence", (typed, property, values, at) => {
  expect(sentence(typed)).toEqual({ property, values, at });
});

test.each(["rotation", "45", "bird race", "a layer’s name", "@ +12", ""])("“%s” is none", (typed) => {
  expect(sentence(typed)).toBeNull();
});
