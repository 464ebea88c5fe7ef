"""Pictures of which four corners go elsewhere."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from ..geometry.bezier import Floats
from .base import Beneath, Effect, Values
from .on_sheet import EVERYWHERE

CORNERS = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
FURTHEST = 20_000.0
"""Pixels that a corner goes at most."""
FLAT = 1e-6
"""The area, in square pixels, at which four corners have collapsed."""


def _from_square(corners: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """The matrices (n, 3, 3) that take the corners of a unit square to four points (n, 4, 2) (Heckbert 1989, 2.2.3);
    and where there are any: not where three of the points lie on a line."""
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
    return np.where(there[:, None, None], rows, np.eye(3)), there


def _affine(corners: Floats) -> Floats:
    """The matrices (n, 3, 3) that take a unit square to parallelograms by their corners (n, 4, 2)."""
    found = np.zeros((len(corners), 3, 3))
    origin = corners[:, 0]
    found[:, :2, 0], found[:, :2, 1], found[:, :2, 2] = corners[:, 1] - origin, corners[:, 3] - origin, origin
    found[:, 2, 2] = 1.0
    return found


class Warp(Effect):
    """A picture of which four corners go elsewhere; what lies between is seen in perspective, bilinear. Both painters
    compute it alike, and differ by 1 of 255 at most."""

    painted_by: ClassVar[str] = "warp"

    def corners(self, values: Values, beneath: Beneath) -> Floats:
        """Where the corners of the box go (1 | n, 4, 2), clockwise from the top left."""
        raise NotImplementedError

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        box = beneath.box[:, None]
        before = box[..., :2] + np.maximum(box[..., 2:], 1e-3) * CORNERS
        rows = max(len(before), len(self.corners(values, beneath)))
        before = np.broadcast_to(before, (rows, 4, 2))
        there, _ = _from_square(np.broadcast_to(self.corners(values, beneath), (rows, 4, 2)))
        forward = there @ np.linalg.inv(_affine(before))
        around = np.broadcast_to(beneath.corners, (max(rows, len(beneath.corners)), 4, 2))
        x, y = around[..., 0], around[..., 1]
        seen = [forward[:, i, :1] * x + forward[:, i, 1:2] * y + forward[:, i, 2:] for i in range(3)]
        near = np.maximum(seen[2], 0.02)
        away = np.abs(np.stack([seen[0] / near - x, seen[1] / near - y], axis=-1))
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

        seen, known = _from_square(there(after))
        back = np.where(known[:, None, None], np.linalg.inv(seen), 0.0)
        # From where things are seen to where they lie: nothing is turned round where corners cross.
        return np.asarray(_affine(there(before)) @ back).reshape(-1, 9)
