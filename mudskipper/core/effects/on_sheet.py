"""What kinds of effects share: places and lengths on the sheet, and what may be see-through."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..tracks.kinds import PairTrack
from .base import Beneath

SHARE = Shown("Amount", "%", low=0, high=100, what="an amount in percent")
CENTRE = Shown("Centre", "%", ("x", "y"), what="a point in percent of the box")
MIDDLE = PairTrack(rest=(50.0, 50.0))
EVERYWHERE = 1e6
"""Pixels: as far in as anything goes."""
Seed = Annotated[Whole, Field(ge=0, le=1_000_000), Shown("Seed")]


def origin_on(matrix: Floats, beneath: Beneath) -> Floats:
    """Where the top left corner of what is painted is on the sheet, and how long a pixel of it is along both axes of
    that: (n, 4)."""
    x, y = np.moveaxis(np.broadcast_to(beneath.box[:, :2], (len(matrix), 2)), 1, 0)
    a, b, c, d, e, f = np.moveaxis(matrix, 1, 0)
    return np.stack([a * x + c * y + e, b * x + d * y + f, np.hypot(a, c), np.hypot(b, d)], axis=1)


def point_on(matrix: Floats, point: Floats) -> Floats:
    """A point (1 | n, 2) of what is painted, on the sheet (n, 2)."""
    x, y = np.moveaxis(np.broadcast_to(point, (len(matrix), 2)), 1, 0)
    a, b, c, d, e, f = np.moveaxis(matrix, 1, 0)
    return np.stack([a * x + c * y + e, b * x + d * y + f], axis=1)


def rows(matrix: Floats, *parts: Floats) -> Floats:
    """Columns (1 | n, k) side by side, a row for each matrix."""
    return np.concatenate([np.broadcast_to(part, (len(matrix), part.shape[1])) for part in parts], axis=1)


def see_through(colours: list[Floats]) -> Floats:
    """How far in something may be see-through that is painted in some colours."""
    least = np.minimum.reduce([colour[:, 3:] for colour in colours])
    return np.repeat(np.where(least < 255.0, EVERYWHERE, 0.0), 4, axis=1)
