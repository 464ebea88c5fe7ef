"""Where a layer is in the scene: axis-aligned bounds, and what it takes to be just outside."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..document.scene import Layer
from ..draw.sheets import grown, reach_of
from ..geometry.bezier import Floats
from .context import Context
from .corners import corners
from .drawing import tight_box
from .layers import ResolvedLayer

Side = Literal["left", "right", "top", "bottom"]


def bounds(resolved: ResolvedLayer) -> Floats:
    """The axis-aligned box in the scene: left, top, right, bottom (n, 4)."""
    points = corners(resolved)
    return np.concatenate([points.min(axis=1), points.max(axis=1)], axis=1)


def bounds_at(layer: Layer, frame: float, context: Context) -> Floats:
    """left, top, right, bottom of a layer's box and of all that is painted of it, strokes and feathers too, at one
    scene frame."""
    return np.asarray(painted_bounds(context.one(layer, frame), context)[0])


def painted_bounds(resolved: ResolvedLayer, context: Context) -> Floats:
    """The axis-aligned box in the scene of a layer's box and of all that is painted of it: left, top, right, bottom
    (n, 4)."""
    points = np.concatenate([corners(resolved), corners(resolved, tight_box(resolved, context))], axis=1)
    return np.concatenate([points.min(axis=1), points.max(axis=1)], axis=1)


def reached(resolved: ResolvedLayer) -> Floats:
    """The axis-aligned box in the scene of a layer's box with what its effects reach beyond it: left, top, right,
    bottom (n, 4)."""
    if not resolved.effects:
        return bounds(resolved)
    return grown(bounds(resolved), resolved.matrix, reach_of(resolved.effects))


def inner_corners(resolved: ResolvedLayer, points: Floats) -> Floats:
    """The corners (n, 4, 2) of an oriented box in the scene, drawn in as far as the effects of the layer that it is of
    leave it see-through; no further than to its middle."""
    soft = [ink.softened for ink in resolved.effects]
    if not soft:
        return points
    inset = np.asarray(sum(np.broadcast_to(one, (len(points), 4)) for one in soft))
    a, b, c, d = (np.abs(resolved.matrix[:, i]) for i in range(4))
    across, down = np.maximum(inset[:, 0], inset[:, 2]), np.maximum(inset[:, 1], inset[:, 3])
    # As far as the widest way in the scene, which of a box turned within its layer is a little too much.
    away = np.maximum(np.hypot(a, b) * across, np.hypot(c, d) * down)[:, None]
    drawn = np.array(points)
    for side in (1, 3):
        along = np.roll(points, -side, axis=1) - points
        length = np.hypot(along[..., :1], along[..., 1:])
        drawn += along / np.maximum(length, 1e-9) * np.minimum(away[..., None], length / 2)
    return drawn


def way_out(box: Floats, side: Side, size: tuple[int, int]) -> tuple[float, float]:
    """The step (x, y) that brings bounds just outside a scene of this size, by one side.

    >>> way_out(np.array([100, 80, 300, 180]), "left", (640, 360))
    (-300.0, 0.0)
    """
    left, top, right, bottom = (float(n) for n in box)
    width, height = size
    return {
        "left": (-right, 0.0), "right": (width - left, 0.0), "top": (0.0, -bottom), "bottom": (0.0, height - top),
    }[side]  # fmt: skip
