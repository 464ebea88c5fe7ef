"""A polygon with equal sides."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..draw.outlines import filleted
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import SizedItem


class Polygon(SizedItem):
    """A polygon with a corner at the top, stretched so that it fills its size; `rounding` is the radius of its
    corners."""

    label: ClassVar[str] = "polygon"

    shape: Literal["polygon"] = "polygon"
    sides: Annotated[Whole, Field(ge=3, le=100), Shown("Sides")] = 6
    rounding: Annotated[NumberTrack, Shown("Rounding", "px", low=0, high=100_000, what="a corner radius in pixels")] = (
        NumberTrack(rest=0.0)
    )

    def outline(self, values: Values) -> tuple[str, Floats]:
        corners = in_box(around(self.sides), self.box(values))
        return filleted(corners, np.broadcast_to(values["rounding"], (len(values["rounding"]), self.sides)))


def around(count: int, shift: float = 0.0) -> Floats:
    """Points (count, 2) on the unit circle, clockwise, the first at the top or `shift` steps on."""
    angle = (np.arange(count) + shift) * 2 * np.pi / count
    return np.stack([np.sin(angle), -np.cos(angle)], axis=1)


def in_box(points: Floats, box: Floats) -> Floats:
    """Points (k, 2) or (n, k, 2) stretched so that they fill a box (n, 4): (n, k, 2)."""
    low, high = points.min(axis=-2, keepdims=True), points.max(axis=-2, keepdims=True)
    return np.asarray(box[:, None, :2] + (points - low) / (high - low) * box[:, None, 2:])
