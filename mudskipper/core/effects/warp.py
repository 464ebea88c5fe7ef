"""Pictures of which four corners go elsewhere."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..geometry.bezier import Floats
from .base import Beneath, Effect, Values
from .on_sheet import EVERYWHERE

CORNERS = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
FURTHEST = 20_000.0
"""Pixels that a corner goes at most."""
FLAT = 1e-6
"""The area, in square pixels, at which four corners have collapsed."""


def _to_square(corners: Floats) -> Floats:
    """The matrices (n, 3, 3) that take four points (n, 4, 2) to the corners of a unit square, so that the third number is
    the inverse of how near a point is seen (Heckbert 1989, 2.2.3); all 0 where three of them lie on a line."""
    x, y = corners[:, :, 0], corners[:, :, 1]
    ax, ay, bx, by = x[:, 1] - x[:, 2], y[:, 1] - y[:, 2], x[:, 3] - x[:, 2], y[:, 3] - y[:, 2]
    sx, sy = x[:, 0] - x[:, 1] + x[:, 2] - x[:, 3], y[:, 0] - y[:, 1] + y[:, 2] - y[:, 3]
    area = ax * by - bx * ay
    safe = np.where(np.abs(area) < FLAT, 1.0, area)
    g, h = (sx * by - bx * sy) / safe, (ax * sy - sx * ay) / safe
    rows = np.stack(
        [
            x[:, 1] - x[:, 0] + g * x[:, 1], x[:, 3] - x[:, 0] + h * x[:, 3], x[:, 0],
            y[:, 1] - y[:, 0] + g * y[:, 1], y[:, 3] - y[:, 0] + h * y[:, 3], y[:, 0],
            g, h, np.ones_like(g),
        ],
        axis=1,
    ).reshape(-1, 3, 3)  # fmt: skip
    there = (np.abs(area) >= FLAT) & (np.abs(np.linalg.det(rows)) >= FLAT)
    return np.where(there[:, None, None], np.linalg.inv(np.where(there[:, None, None], rows, np.eye(3))), 0.0)


class Warp(Effect):
    """A picture of which four corners go elsewhere; what lies between is seen in perspective, bilinear. Both painters
    compute it alike, and differ by 1 of 255 at most."""

    painted_by: ClassVar[str] = "warp"

    def corners(self, values: Values, beneath: Beneath) -> Floats:
        """Where the corners of the box go (1 | n, 4, 2), clockwise from the top left."""
        raise NotImplementedError

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        box = beneath.box[:, None]
        away = np.abs(self.corners(values, beneath) - (box[..., :2] + box[..., 2:] * CORNERS))
        most = np.minimum(away.max(axis=1) + 1.0, FURTHEST)
        return np.asarray(most[:, [0, 1, 0, 1]])

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.full((1, 4), EVERYWHERE)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The matrix of nine numbers that takes a place on the sheet to the one that is seen there; all 0 where nothing
        is: 9 columns."""
        box = np.broadcast_to(beneath.box, (len(matrix), 4))[:, None]
        before = box[..., :2] + box[..., 2:] * CORNERS
        after = np.broadcast_to(self.corners(values, beneath), before.shape)
        m = matrix[:, None]

        def there(points: Floats) -> Floats:
            x, y = points[..., 0], points[..., 1]
            found = [m[..., 0] * x + m[..., 2] * y + m[..., 4], m[..., 1] * x + m[..., 3] * y + m[..., 5]]
            return np.stack(found, axis=-1)

        lies = there(before)
        origin, along, down = lies[:, 0], lies[:, 1] - lies[:, 0], lies[:, 3] - lies[:, 0]
        square = np.zeros((len(matrix), 3, 3))
        square[:, :2, 0], square[:, :2, 1], square[:, :2, 2], square[:, 2, 2] = along, down, origin, 1.0
        # From where things are seen to where they lie: nothing is turned round where corners cross.
        return np.asarray(square @ _to_square(there(after))).reshape(-1, 9)
