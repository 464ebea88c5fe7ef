"""Flashes that may harm: more than three in a second (WCAG 2.3.1)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..geometry.bezier import Floats

MOST = 3
"""Flashes in a second that are still allowed."""
STEP, DARK = 0.1, 0.8
"""A change of relative luminance counts from a tenth on, where the darker picture lies below 0.8."""
RED_STEP = 20.0 / 320.0
"""A change of (R − G − B), 0 where that is below 0, counts from here on, where one of both pictures is saturated."""
FIELD, SHARE = 1.0 / 3.0, 0.25
"""A quarter of ten degrees of the field of view, which is a third of the picture across and down."""


@dataclass(frozen=True)
class Flashing:
    """From which frame on a picture flashes too often, and how many times in that second."""

    frame: int
    count: int
    red: bool


def flashing(light: Floats, red: Floats, saturated: NDArray[np.bool_], fps: float) -> Flashing | None:
    """Where the cells of a picture flash more than three times in a second, a quarter of a field of view together.

    `light` is the relative luminance (n, h, w) of cells at frames, `red` their R − G − B (linear, not below 0), and
    `saturated` whether R is at least 0.8 of all light in them.
    """
    found = [
        _worst(_turns(light, STEP, None), fps, red=False),
        _worst(_turns(red, RED_STEP, saturated), fps, red=True),
    ]
    there = [one for one in found if one is not None]
    return min(there, key=lambda one: one.frame) if there else None


def _turns(values: Floats, step: float, saturated: NDArray[np.bool_] | None) -> NDArray[np.bool_]:
    """The frames (n, h, w) at which each cell has gone up, or down, by a step since it turned last, the other way than
    before; the darker of both below 0.8, or one of them saturated where that is asked."""
    out = np.zeros(values.shape, dtype=bool)
    low, high = values[0].copy(), values[0].copy()
    way = np.zeros(values.shape[1:], dtype=np.int8)
    pure = None if saturated is None else saturated[0].copy()
    for index in range(1, len(values)):
        now = values[index]
        low, high = np.minimum(low, now), np.maximum(high, now)
        if saturated is not None and pure is not None:
            pure |= saturated[index]
        up = (now - low >= step) & (way <= 0) & ((low < DARK) if pure is None else pure)
        down = (high - now >= step) & (way >= 0) & ((now < DARK) if pure is None else pure)
        out[index] = up | down
        way = np.where(up, 1, np.where(down, -1, way)).astype(np.int8)
        # From here on the next change is measured.
        high, low = np.where(up, now, high), np.where(down, now, low)
        if saturated is not None and pure is not None:
            pure = np.where(up | down, saturated[index], pure)
    return out


def _worst(turns: NDArray[np.bool_], fps: float, *, red: bool) -> Flashing | None:
    """The first frame at which enough cells together have flashed more than three times in a second, up and down."""
    second = max(round(fps), 1)
    total = np.concatenate([np.zeros((1, *turns.shape[1:]), dtype=np.int32), np.cumsum(turns, axis=0)])
    for index in range(1, len(turns) + 1):
        within = total[index] - total[max(index - second, 0)]
        often = within // 2 > MOST
        if often.any() and _together(often):
            return Flashing(index - 1, int(within.max()) // 2, red)
    return None


def _together(cells: NDArray[np.bool_]) -> bool:
    """Whether a field of view anywhere on the picture has a quarter of its cells among those."""
    high, wide = (max(round(side * FIELD), 1) for side in cells.shape)
    sums = np.zeros((cells.shape[0] + 1, cells.shape[1] + 1))
    sums[1:, 1:] = np.cumsum(np.cumsum(cells, axis=0), axis=1)
    fields = sums[high:, wide:] - sums[:-high, wide:] - sums[high:, :-wide] + sums[:-high, :-wide]
    return bool((fields > SHARE * high * wide).any())
