"""A rectangle, with round corners."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.outlines import reduced, rounded
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Model
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import SizedItem

RADIUS = "a corner radius in pixels"
SHARP = NumberTrack(rest=0.0)


class Corners(Model):
    """A radius for each corner."""

    top_left: Annotated[NumberTrack, Shown("Top left", "px", low=0, high=100_000, what=RADIUS)] = SHARP
    top_right: Annotated[NumberTrack, Shown("Top right", "px", low=0, high=100_000, what=RADIUS)] = SHARP
    bottom_right: Annotated[NumberTrack, Shown("Low right", "px", low=0, high=100_000, what=RADIUS)] = SHARP
    bottom_left: Annotated[NumberTrack, Shown("Low left", "px", low=0, high=100_000, what=RADIUS)] = SHARP


class Rectangle(SizedItem):
    """A rectangle; `corners` is the radius of all four, at most half the shorter side, as in CSS.

    With `apart` each corner has a radius of its own, and `corners` is not read. Where those along a side are longer
    than it, all four become smaller by one factor (CSS Backgrounds 3, 4.5).
    """

    label: ClassVar[str] = "rectangle"

    shape: Literal["rectangle"] = "rectangle"
    corners: Annotated[NumberTrack, Shown("Corners", "px", low=0, high=100_000, what=RADIUS)] = SHARP
    apart: Annotated[Corners | None, Shown("Corners apart")] = None

    def outline(self, values: Values) -> tuple[str, Floats]:
        box = self.box(values)
        if self.apart:
            radii = np.concatenate(
                np.broadcast_arrays(*(values[f"apart.{corner}"] for corner in Corners.model_fields)), axis=1
            )
            radii = reduced(box, radii)
            return rounded(box, radii, radii)
        most = np.minimum(box[:, 2:3], box[:, 3:4]) / 2
        radius = np.minimum(values["corners"], most)
        return rounded(box, radius, radius)
