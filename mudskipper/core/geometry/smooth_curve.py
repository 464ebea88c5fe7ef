"""Smooth curves through points, which overshoot nowhere."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .bezier import Floats


def through(points: Sequence[tuple[float, float]], at: Floats) -> Floats:
    """The values at places (…) of the smooth curve through points (x, y), x ascending: cubic Hermite stretches whose
    slopes are bounded as Fritsch and Carlson bound them (SIAM J. Numer. Anal. 17, 1980), so that it rises where the
    points rise and is level where they are. Beyond both ends it goes on level.

    >>> through([(0.0, 0.0), (1.0, 1.0)], np.array([-1.0, 0.25, 2.0])).tolist()
    [0.0, 0.25, 1.0]
    """
    x, y = (np.array(part, dtype=np.float64) for part in zip(*points, strict=True))
    if len(x) == 1:
        return np.full(np.shape(at), y[0])
    wide = np.diff(x)
    secants = np.diff(y) / wide
    slopes = np.concatenate([secants[:1], (secants[:-1] + secants[1:]) / 2, secants[-1:]])
    slopes[1:-1][secants[:-1] * secants[1:] <= 0] = 0.0
    for index, secant in enumerate(secants):
        if secant == 0:
            slopes[index] = slopes[index + 1] = 0.0
            continue
        a, b = slopes[index] / secant, slopes[index + 1] / secant
        far = np.hypot(a, b)
        if far > 3:
            slopes[index], slopes[index + 1] = 3 * a / far * secant, 3 * b / far * secant
    inside = np.clip(at, x[0], x[-1])
    place = np.clip(np.searchsorted(x, inside, side="right") - 1, 0, len(wide) - 1)
    u, width = (inside - x[place]) / wide[place], wide[place]
    low, high = y[place], y[place + 1]
    first, second = slopes[place] * width, slopes[place + 1] * width
    found = (
        (2 * u**3 - 3 * u**2 + 1) * low + (u**3 - 2 * u**2 + u) * first
        + (3 * u**2 - 2 * u**3) * high + (u**3 - u**2) * second
    )  # fmt: skip
    return np.asarray(found)
