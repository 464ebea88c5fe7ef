"""A rectangle, with round corners."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..bezier import Floats
from ..draw.outlines import rounded
from ..shown import Shown
from ..tracks import NumberTrack
from .base import ShapeItem, Values


class Rectangle(ShapeItem):
    """A rectangle; `corners` is the radius of all four, at most half the shorter side, as in CSS."""

    label: ClassVar[str] = "rectangle"

    shape: Literal["rectangle"] = "rectangle"
    corners: Annotated[NumberTrack, Shown("Corners", "px", low=0, high=100_000, what="a corner radius in pixels")] = (
        NumberTrack(rest=0.0)
    )

    def outline(self, values: Values) -> tuple[str, Floats]:
        box = self.box(values)
        most = np.minimum(box[:, 2:3], box[:, 3:4]) / 2
        radius = np.minimum(values["corners"], most)
        return rounded(box, radius, radius)
