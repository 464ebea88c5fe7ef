import type { Point } from "./layerGeometry";

/**
 * The smooth curve through points, x ascending, that overshoots nowhere: as `core/geometry/smooth_curve.py` has it
 * (Fritsch and Carlson, 1980); for drawing it.
 */
export function smoothCurve(points: Point[]): (at: number) => number {
  const wide = points.slice(1).map(([x], index) => x - points[index][0]);
  const secants = wide.map((width, index) => (points[index + 1][1] - points[index][1]) / width);
  const slopes = points.map((_, index) => {
    const [before, after] = [secants[index - 1], secants[index]];
    if (before === undefined || after === undefined) return before ?? after ?? 0;
    return before * after <= 0 ? 0 : (before + after) / 2;
  });
  secants.forEach((secant, index) => {
    if (secant === 0) {
      slopes[index] = 0;
      slopes[index + 1] = 0;
      return;
    }
    const [a, b] = [slopes[index] / secant, slopes[index + 1] / secant];
    const far = Math.hypot(a, b);
    if (far > 3) {
      slopes[index] = ((3 * a) / far) * secant;
      slopes[index + 1] = ((3 * b) / far) * secant;
    }
  });
  return (at) => {
    if (points.length === 1 || at <= points[0][0]) return points[0][1];
    const last = points.length - 1;
    if (at >= points[last][0]) return points[last][1];
    const place = points.findIndex(([x]) => x > at) - 1;
    const width = wide[place];
    const u = (at - points[place][0]) / width;
    const [low, high] = [points[place][1], points[place + 1][1]];
    return (
      (2 * u ** 3 - 3 * u ** 2 + 1) * low +
      (u ** 3 - 2 * u ** 2 + u) * slopes[place] * width +
      (3 * u ** 2 - 2 * u ** 3) * high +
      (u ** 3 - u ** 2) * slopes[place + 1] * width
    );
  };
}
