"""What lies between two values, and what goes round: on arrays (n, d), every number by itself."""

from __future__ import annotations

import numpy as np

from ...geometry.bezier import Floats


def mix(a: Floats, b: Floats, k: Floats) -> Floats:
    """From a at k = 0 to b at k = 1, in a straight line."""
    return np.asarray(a + (b - a) * k)


def clamp(value: Floats, low: Floats, high: Floats) -> Floats:
    """The value, not below `low` and not above `high`."""
    return np.asarray(np.minimum(np.maximum(value, low), high))


def step(edge: Floats, value: Floats) -> Floats:
    """0 below the edge, 1 from it on."""
    return np.where(np.isnan(value) | np.isnan(edge), np.nan, (value >= edge) * 1.0)


def smoothstep(low: Floats, high: Floats, value: Floats) -> Floats:
    """0 up to `low`, 1 from `high` on, and between them 3u² − 2u³; where both are the same a `step`."""
    wide = high - low
    u = np.clip((value - low) / np.where(wide == 0, 1.0, wide), 0.0, 1.0)
    return np.where(wide == 0, step(high, value), u * u * (3.0 - 2.0 * u))


def remap(value: Floats, a0: Floats, a1: Floats, b0: Floats, b1: Floats) -> Floats:
    """What lies between a0 and a1 as far between b0 and b1; beyond them it goes on."""
    return np.asarray(b0 + (value - a0) / (a1 - a0) * (b1 - b0))


def saw(turns: Floats) -> Floats:
    """0 to 1 in each turn, then from 0 again."""
    return np.asarray(turns - np.floor(turns))


def triangle(turns: Floats) -> Floats:
    """0 to 1 and back in each turn."""
    return np.asarray(1.0 - np.abs(2.0 * saw(turns) - 1.0))


def square(turns: Floats) -> Floats:
    """1 in the first half of each turn, 0 in the second."""
    turn = saw(turns)
    return np.where(np.isnan(turn), np.nan, (turn < 0.5) * 1.0)


def hypot(*parts: Floats) -> Floats:
    """The square root of the sum of the squares."""
    return np.asarray(np.sqrt(sum((part * part for part in parts), np.zeros((1, 1)))))


def length(pair: Floats) -> Floats:
    """How long a pair is, as an arrow."""
    return np.asarray(np.sqrt((pair * pair).sum(axis=1, keepdims=True)))
