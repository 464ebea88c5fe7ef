import { describe, expect, it } from "vitest";
import { Pace } from "../../frontend/src/play/pace";

describe("how coarsely a scene that plays is painted", () => {
  const told: number[] = [];
  const pace = new Pace((share) => told.push(share));
  const frames = (...times: number[]) => {
    for (const time of times) pace.took(time, 33);
    return told.splice(0);
  };

  it("stays as fine as it is seen while few frames are late", () => {
    expect(frames(...Array.from({ length: 40 }, (_, i) => (i % 4 ? 20 : 60)))).toEqual([]);
  });

  it("goes coarser by one step where three of eight are late, down to a half", () => {
    expect(frames(40, 20, 40, 20, 40)).toEqual([0.75]);
    expect(frames(40, 20)).toEqual([]);
    expect(frames(40, 40, 40, 40, 40, 40)).toEqual([0.5]);
    expect(pace.share).toBe(0.5);
  });

  it("is as fine as it is seen at rest, and goes on as it was", () => {
    pace.rest();
    pace.rest();
    expect(told.splice(0)).toEqual([1]);
    expect(frames(40, 40)).toEqual([]);
    expect(pace.share).toBe(0.5);
  });

  it("goes finer again once many frames in a row were easy", () => {
    expect(frames(...Array(44).fill(5), 20, ...Array(44).fill(5))).toEqual([]);
    expect(frames(5)).toEqual([0.75]);
    expect(frames(...Array(45).fill(5))).toEqual([1]);
    expect(frames(...Array(90).fill(5))).toEqual([]);
  });
});
