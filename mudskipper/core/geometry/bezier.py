"""The CSS cubic bezier as a function of time: solved in batches, split exactly, and its slopes at the ends."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Numbers = tuple[float, float, float, float]

BLOCK = 16_384
COARSE, FINE = 4, 2  # Newton steps in single precision, then in double
NEAR = 1e-10


def coefficients(numbers: Numbers) -> tuple[float, float, float, float, float, float]:
    """(ax, bx, cx, ay, by, cy) of x(s) = ((ax·s + bx)·s + cx)·s and likewise y(s)."""
    x1, y1, x2, y2 = numbers
    cx, cy = 3 * x1, 3 * y1
    bx, by = 3 * (x2 - x1) - cx, 3 * (y2 - y1) - cy
    return 1 - cx - bx, bx, cx, 1 - cy - by, by, cy


def solve(table: Floats, which: NDArray[np.intp], u: Floats) -> Floats:
    """y at x = u (n,) of the curve in row `which` (n,) of `table`; 0 and 1 exactly where u is.

    Worked in blocks that stay in the processor's cache. Newton from s = u settles nearly all; where the slope
    vanishes a shrinking bracket finishes.
    """
    out = np.empty_like(u)
    columns = np.ascontiguousarray(table.T)
    singles = columns[:3].astype(np.float32)
    for start in range(0, len(u), BLOCK):
        part = slice(start, start + BLOCK)
        rows, here = which[part], u[part]
        single = here.astype(np.float32)
        # Clipping takes half the time of looking whether each row is there, and of both maximum and minimum.
        ax, bx, cx = (column.take(rows, mode="clip") for column in singles)
        near = _newton(ax, bx, cx, single, single, COARSE)
        ax, bx, cx, ay, by, cy = (column.take(rows, mode="clip") for column in columns)
        s = _parameter(ax, bx, cx, here, near.astype(np.float64))
        ay *= s
        ay += by
        ay *= s
        ay += cy
        np.multiply(ay, s, out=out[part])
    out[u <= 0] = 0.0
    out[u >= 1] = 1.0
    return out


def _parameter(ax: Floats, bx: Floats, cx: Floats, u: Floats, near: Floats) -> Floats:
    """s with x(s) = u, from places near by."""
    s: Floats = _newton(ax, bx, cx, u, near, FINE)
    missed = np.flatnonzero(np.abs(((ax * s + bx) * s + cx) * s - u) > NEAR)
    if missed.size:
        s[missed] = _bracketed(ax[missed], bx[missed], cx[missed], u[missed], s[missed])
    return s


def _newton(ax: Any, bx: Any, cx: Any, u: Any, s: Any, times: int) -> Any:
    """Newton's steps within 0…1, in the arrays' own precision."""
    ax3, bx2 = 3 * ax, 2 * bx
    s = s.copy()
    step, slope = np.empty_like(s), np.empty_like(s)
    for _ in range(times):
        np.multiply(ax, s, out=step)
        step += bx
        step *= s
        step += cx
        step *= s
        step -= u
        np.multiply(ax3, s, out=slope)
        slope += bx2
        slope *= s
        slope += cx
        slope.clip(1e-3, np.inf, out=slope)
        step /= slope
        s -= step
        s.clip(0.0, 1.0, out=s)
    return s


def _bracketed(ax: Floats, bx: Floats, cx: Floats, u: Floats, s: Floats) -> Floats:
    """Newton within a shrinking bracket; what has settled drops out."""
    out = s.copy()
    left = np.arange(len(u))
    low, high = np.zeros_like(u), np.ones_like(u)
    for _ in range(60):
        error = ((ax * s + bx) * s + cx) * s - u
        open_ = np.abs(error) > NEAR
        out[left] = s
        if not open_.any():
            break
        left, s, error = left[open_], s[open_], error[open_]
        ax, bx, cx, u = ax[open_], bx[open_], cx[open_], u[open_]
        above = error > 0
        high = np.where(above, s, high[open_])
        low = np.where(above, low[open_], s)
        slope = (3 * ax * s + 2 * bx) * s + cx
        with np.errstate(divide="ignore", invalid="ignore"):
            better = s - error / slope
        s = np.where((better > low) & (better < high), better, 0.5 * (low + high))
    return out


def split(numbers: Numbers, u: float) -> tuple[Numbers, Numbers, float] | None:
    """Cut the curve at time u by de Casteljau: the curves before and after, each over its own unit square, and y(u).

    None where no CSS bezier can be a part: it would have to move without changing its value (y(u) is 0 or 1), or its
    handles would leave 0…1 in time (x2 well before x1).
    """
    x1, y1, x2, y2 = numbers
    ax, bx, cx, *_ = coefficients(numbers)
    at = np.array([u])
    s = float(_parameter(np.array([ax]), np.array([bx]), np.array([cx]), at, at)[0])
    points = np.array([[0, 0], [x1, y1], [x2, y2], [1, 1]], dtype=np.float64)
    first = points[:-1] + (points[1:] - points[:-1]) * s
    second = first[:-1] + (first[1:] - first[:-1]) * s
    (x, y) = second[0] + (second[1] - second[0]) * s
    if min(abs(y), abs(1 - y)) < 1e-9 or not 0 < x < 1:
        return None
    before = (first[0][0] / x, first[0][1] / y, second[0][0] / x, second[0][1] / y)
    after = (
        (second[1][0] - x) / (1 - x), (second[1][1] - y) / (1 - y),
        (first[2][0] - x) / (1 - x), (first[2][1] - y) / (1 - y),
    )  # fmt: skip
    if any(not -1e-9 <= part[i] <= 1 + 1e-9 for part in (before, after) for i in (0, 2)):
        return None
    return _tidy(before), _tidy(after), float(y)


def _tidy(numbers: tuple[float, ...]) -> Numbers:
    x1, y1, x2, y2 = (float(n) for n in numbers)
    return min(max(x1, 0.0), 1.0), y1, min(max(x2, 0.0), 1.0), y2


def end_slopes(numbers: Numbers) -> tuple[float, float]:
    """dy/dx at u = 0 and at u = 1; a vertical tangent counts as 0, since it has no speed."""
    x1, y1, x2, y2 = numbers

    def slope(*legs: tuple[float, float]) -> float:
        for x, y in legs:
            if x > 1e-12:
                return y / x
            if abs(y) > 1e-12:
                return 0.0
        return 1.0

    return slope((x1, y1), (x2, y2)), slope((1 - x2, 1 - y2), (1 - x1, 1 - y1))


def turning_values(a: float, b: float, c: float, d: float) -> list[float]:
    """The values of a cubic Bézier between its ends at which it turns.

    >>> turning_values(0.0, 1.0, 1.0, 0.0)
    [0.75]
    """
    # A third of the derivative is q t² + r t + s.
    q, r, s = d - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a
    if abs(q) <= 1e-12 * (abs(r) + abs(s)):
        times = [-s / r] if r else []
    else:
        under = r * r - 4 * q * s
        if under < 0:
            return []
        # The stable form: what is large is never taken from what is about as large.
        w = -(r + math.copysign(math.sqrt(under), r)) / 2
        times = [w / q, *([s / w] if w else [])]
    return [
        (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d for t in times if 0 < t < 1
    ]
