"""The fewest straight keys that follow given values at every frame within a tolerance."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from .bezier import Floats


def fitted_keys(frames: Floats, values: Floats, tolerance: float) -> list[dict[str, Any]]:
    """Linear keys through values (n, d) at ascending frames (n,), nowhere further off than `tolerance`.

    From each key the longest stretch that still holds is taken, found by doubling and halving: as few keys as
    straight stretches between given values allow, but for rare ties.
    """
    places = [0]
    while places[-1] < len(frames) - 1:
        start = places[-1]

        def holds(end: int, start: int = start) -> bool:
            return _holds(frames, values, start, end, tolerance)

        places.append(furthest(start, len(frames) - 1, holds))
    if len(places) == 2 and np.abs(values[-1] - values[0]).max() <= tolerance / 1e3:
        places = [0]
    return [{"frame": float(frames[i]), "value": plain_value(values[i])} for i in places]


def furthest(start: int, last: int, holds: Callable[[int], bool]) -> int:
    """The end of the longest stretch from `start` that still holds, found by doubling and halving; `last` at most, and
    one step at least.

    >>> furthest(3, 100, lambda end: end <= 40)
    40
    """
    good, step = start + 1, 2
    while start + step <= last and holds(start + step):
        good, step = start + step, step * 2
    bad = min(start + step, last + 1)
    while bad - good > 1:
        middle = (good + bad) // 2
        if holds(middle):
            good = middle
        else:
            bad = middle
    return good


def _holds(frames: Floats, values: Floats, start: int, end: int, tolerance: float) -> bool:
    share = (frames[start : end + 1] - frames[start]) / (frames[end] - frames[start])
    straight = values[start] + (values[end] - values[start]) * share[:, None]
    away = straight - values[start : end + 1]
    return bool(np.sqrt((away**2).sum(axis=1)).max() <= tolerance)


def plain_value(row: Floats) -> Any:
    """A value (d,) as documents write it: a number, or a pair."""
    return float(row[0]) if len(row) == 1 else tuple(float(part) for part in row)
