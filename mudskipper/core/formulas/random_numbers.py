"""Numbers that look random, and motion made of them, on arrays (n, d).

They come from the bits of SplitMix64 (Steele, Lea, Flood 2014), so that they are the same on every
machine, at any window of frames, in any order.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..geometry.bezier import Floats


def _bits(numbers: NDArray[np.uint64]) -> NDArray[np.uint64]:
    z = numbers + np.uint64(0x9E3779B97F4A7C15)
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return np.asarray(z ^ (z >> np.uint64(31)))


def hashed(whole: Floats, seed: Floats, channel: int = 0) -> Floats:
    """A number in 0…1 (not included) for whole numbers and a seed; the same ones give the same."""
    mixed = _bits(_bits(_whole(seed)) ^ _whole(whole))
    return np.asarray((_bits(mixed ^ np.uint64(channel)) >> np.uint64(11)) * 2.0**-53)


def _whole(numbers: Floats) -> NDArray[np.uint64]:
    """The bits of whole numbers, each rounded down; 0 for what is none."""
    within = np.floor(np.clip(numbers, -1e15, 1e15))
    return np.where(np.isnan(within), 0.0, within).astype(np.int64).view(np.uint64)


def noise(at: Floats, seed: Floats, channel: int = 0) -> Floats:
    """Smooth noise in −1…1 whose slope has no jump, 0 on average: between whole numbers it goes from one random slope
    to the next (gradient noise with the fade 6u⁵ − 15u⁴ + 10u³)."""
    low = np.floor(at)
    u = at - low
    before, after = (2.0 * hashed(low + k, seed, channel) - 1.0 for k in (0, 1))
    fade = u * u * u * (u * (u * 6.0 - 15.0) + 10.0)
    return np.asarray(np.clip(2.0 * (before * u * (1.0 - fade) + after * (u - 1.0) * fade), -1.0, 1.0))


def wander(at: Floats, reach: Floats, seed: Floats) -> Floats:
    """Random motion that turns about once for each whole number of `at` and goes `reach` at most; of a pair each
    number by itself."""
    channels = [_drift(at[:, :1], seed[:, :1], channel) for channel in range(reach.shape[1])]
    return np.asarray(np.concatenate(np.broadcast_arrays(*channels), axis=1) * reach)


def _around(low: Floats, seed: Floats, channel: int) -> list[Floats]:
    """Random values in −1…1 for the whole numbers from one below to two above others (n, 1)."""
    if len(seed) > 1 or not np.isfinite(low).all() or low.max() - low.min() > 4 * len(low) + 64:
        return [2.0 * hashed(low + k, seed, channel) - 1.0 for k in (-1, 0, 1, 2)]
    # Few whole numbers for many frames: each is hashed once.
    first = low.min()
    table = 2.0 * hashed(np.arange(first - 1, low.max() + 3)[:, None], seed, channel)[:, 0] - 1.0
    places = (low - first).astype(np.intp)
    return [table[places + k] for k in (0, 1, 2, 3)]


def _drift(at: Floats, seed: Floats, channel: int) -> Floats:
    """A curve in −1…1 past random values, one for each whole number: a uniform cubic B-spline, whose second derivative
    has no jump."""
    low = np.floor(at)
    u = at - low
    a, b, c, d = _around(low, seed, channel)
    v, square = 1 - u, u * u
    cube = square * u
    weights = v * v * v, 3 * cube - 6 * square + 4, 3 * (square + u - cube) + 1, cube
    return np.asarray(sum(w * value for w, value in zip(weights, (a, b, c, d), strict=True)) / 6.0)
