"""The fewest keys with cubic-bezier easings that follow given values at every frame within a tolerance."""

from __future__ import annotations

from typing import Any

import numpy as np

from .bezier import Floats
from .fewest_keys import furthest, plain_value

THIRD = 1.0 / 3.0
STEEPEST = 100.0
"""How far a handle may reach, in steps of value; beyond that a stretch is divided."""


def eased_keys(frames: Floats, values: Floats, tolerance: float) -> list[dict[str, Any]]:
    """Keys through values (n, d) at ascending frames (n,), nowhere further off than `tolerance`.

    A stretch is cubic-bezier(1/3, y1, 2/3, y2), whose progress is a cubic of time, so that y1 and y2 are found by least
    squares; all numbers of a value share them. From each key the longest stretch that holds is taken, found by doubling
    and halving.

    >>> frames = np.arange(11.0)
    >>> len(eased_keys(frames, (frames**3)[:, None], 0.01))
    2
    """
    last = len(frames) - 1
    places, eases = [0], []
    while places[-1] < last:
        start = places[-1]

        def holds(end: int, start: int = start) -> bool:
            return _ease(frames, values, start, end, tolerance) is not None

        good = furthest(start, last, holds)
        places.append(good)
        eases.append(_ease(frames, values, start, good, tolerance) or "linear")
    if len(places) == 2 and np.abs(values - values[0]).max() <= tolerance / 1e3:
        places, eases = [0], []
    keys = [{"frame": float(frames[i]), "value": plain_value(values[i])} for i in places]
    for key, ease in zip(keys, eases, strict=False):
        if ease != "linear":
            key["ease"] = ease
    return keys


def _ease(frames: Floats, values: Floats, start: int, end: int, tolerance: float) -> Any:
    """The easing of a stretch that holds; None where none does."""
    u = ((frames[start : end + 1] - frames[start]) / (frames[end] - frames[start]))[:, None]
    step = values[end] - values[start]
    away = values[start : end + 1] - values[start]
    if _near(step * u - away, tolerance):
        return "linear"
    if end - start < 2 or np.abs(step).max() <= tolerance:
        return None
    # away = step (3 (1−u)² u y1 + 3 (1−u) u² y2 + u³), for every number of the value.
    first, second = 3 * (1 - u) ** 2 * u, 3 * (1 - u) * u**2
    system = np.stack([(first * step).ravel(), (second * step).ravel()], axis=1)
    found, *_ = np.linalg.lstsq(system, (away - step * u**3).ravel(), rcond=None)
    y1, y2 = (round(float(one), 6) for one in found)
    if max(abs(y1), abs(y2)) > STEEPEST or not _near(step * (first * y1 + second * y2 + u**3) - away, tolerance):
        return None
    return {"bezier": [THIRD, y1, 2 * THIRD, y2]}


def _near(away: Floats, tolerance: float) -> bool:
    return bool(np.sqrt((away**2).sum(axis=1)).max() <= tolerance)
