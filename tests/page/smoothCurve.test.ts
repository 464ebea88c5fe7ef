import { describe, expect, it } from "vitest";
import type { Point } from "../../frontend/src/geometry/layerGeometry";
import { smoothCurve } from "../../frontend/src/geometry/smoothCurve";

describe("a curve through points", () => {
  it("is that of the core", () => {
    // Values of core/geometry/smooth_curve.py.
    const points: Point[] = [
      [0, 0.1],
      [0.3, 0.2],
      [0.6, 0.9],
      [1, 0.95],
    ];
    const curve = smoothCurve(points);
    const at = [-1, 0, 0.1, 0.3, 0.45, 0.5, 0.75, 1, 2];
    const wanted = [0.1, 0.1, 0.11514656481320001, 0.2, 0.5723900007310507, 0.7234960934557932, 0.9363463983991452, 0.95, 0.95];
    at.forEach((x, index) => expect(curve(x)).toBeCloseTo(wanted[index], 9));
  });
  it("is level where two points are, and a straight line through points on one", () => {
    const level = smoothCurve([
      [0, 0],
      [0.5, 0.6],
      [0.8, 0.6],
      [1, 1],
    ]);
    for (const x of [0.5, 0.61, 0.7, 0.8]) expect(level(x)).toBeCloseTo(0.6, 12);
    const straight = smoothCurve([
      [0, 0],
      [0.2, 0.2],
      [0.9, 0.9],
      [1, 1],
    ]);
    for (const x of [0, 0.11, 0.5, 0.93, 1]) expect(straight(x)).toBeCloseTo(x, 12);
  });
});
