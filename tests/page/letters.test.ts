import { describe, expect, it } from "vitest";
import { type Part, partOf, points, shifted, stretches, units } from "../../frontend/src/document/letters";

const part = (start: number, stop: number) => ({ start, stop }) as Part;

describe("parts of a text", () => {
  // As the core moves them: tests/core/test_setting.py draws them at random.
  it.each([
    ["Low tide", "Slow tide", [[0, 4], [5, 9]]],
    ["Low tide", "Lo tide", [[0, 2], [3, 7]]],
    ["Low tide", "Low XX tide", [[0, 3], [7, 11]]],
    ["Low tide", "tide", [[0, 4]]],
    ["Low tide", "Low tides", [[0, 3], [4, 9]]],
    ["Low 🙂tide", "Low 🙂🙂tide", [[0, 3], [4, 10]]],
  ] as [string, string, number[][]][])("%s → %s", (before, after, wanted) => {
    const moved = shifted([part(0, 3), part(4, [...before].length)], before, after);
    expect(moved.map(({ start, stop }) => [start, stop])).toEqual(wanted);
  });

  it("lies in stretches, of which the later part holds", () => {
    expect(stretches("Low tide", [part(0, 5), part(3, 6)])).toEqual([
      { start: 0, stop: 3, part: 0 },
      { start: 3, stop: 5, part: 1 },
      { start: 5, stop: 6, part: 1 },
      { start: 6, stop: 8, part: undefined },
    ]);
    expect(partOf([part(0, 5), part(3, 6)], 3, 5)).toBe(1);
    expect(partOf([part(0, 5)], 3, 6)).toBeUndefined();
  });

  it("counts code points, and fields code units", () => {
    expect([points("a🙂b", 3), units("a🙂b", 2), units("a🙂b", 9)]).toEqual([2, 3, 4]);
  });
});
