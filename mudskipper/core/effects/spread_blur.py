"""Blurs along a way: many copies of a picture, averaged."""

from __future__ import annotations

from abc import abstractmethod
from typing import ClassVar

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import inverse, multiply
from .base import Beneath, Effect, Values

DOUBLINGS = 6
"""How often a picture is averaged with itself moved on by twice as much: 64 copies."""
COPIES = 2.0**DOUBLINGS
ASKEW = 1e-7
"""By how much matrices are off from parallel to the pixels: no painter then takes a short cut."""


class SpreadBlur(Effect):
    """64 copies of a picture, each a step further along a way, averaged: doubled six times, each time with itself moved
    on by twice as much. Both painters draw the same copies by the same matrices, by whole alphas, and agree to the
    byte; a sum of the 64 differs by 4 of 255 at most. Colours are averaged as they are stored (sRGB)."""

    painted_by: ClassVar[str] = "averaged"

    @abstractmethod
    def moved(self, values: Values, share: float, beneath: Beneath) -> Floats:
        """The matrices (1 | n, 6) that take the picture to a share of the whole way, −½…½, in its own pixels."""

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        around = beneath.corners
        corners = np.concatenate([around, around.mean(axis=1, keepdims=True)], axis=1)
        away: list[Floats] = []
        for share in np.linspace(-0.5, 0.5, 17):
            m = self.moved(values, float(share), beneath)[:, None]
            x, y = corners[..., 0], corners[..., 1]
            away.append(m[..., 0] * x + m[..., 2] * y + m[..., 4] - x)
            away.append(m[..., 1] * x + m[..., 3] * y + m[..., 5] - y)
        across, down = (np.stack(np.broadcast_arrays(*away[axis::2])) for axis in (0, 1))
        ends = [np.abs(across).max(axis=(0, 2)), np.abs(down).max(axis=(0, 2))]
        # Between the places that were looked at a turn goes a little further.
        return np.asarray(np.stack([ends[0], ends[1], ends[0], ends[1]], axis=1) * 1.02 + 2.0)

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return self.reach(values, beneath)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The matrices to the first copy and to the second, and those of the other five doublings, on the sheet: 42
        columns."""
        back = inverse(matrix)
        assert back is not None
        first = 0.5 / COPIES - 0.5
        steps = [self.moved(values, first, beneath), self.moved(values, first + 1.0 / COPIES, beneath)]
        steps += [self.moved(values, 2.0**number / COPIES, beneath) for number in range(1, DOUBLINGS)]
        made = [np.broadcast_to(multiply(multiply(matrix, step), back), (len(matrix), 6)) for step in steps]
        found = np.stack(made, axis=1).copy()
        straight = (found[..., 1] == 0) & (found[..., 2] == 0)
        found[..., 1] = np.where(straight, ASKEW, found[..., 1])
        return found.reshape(len(found), 7 * 6)
