"""A star."""

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
from .polygon import around, in_box

RADIUS = "a corner radius in pixels"


class Star(SizedItem):
    """A star with a point at the top, stretched so that it fills its size.

    `inner` is how far its inner corners lie from the centre, in percent of its points; `rounding` and
    `inner_rounding` are the radii of both.
    """

    label: ClassVar[str] = "star"

    shape: Literal["star"] = "star"
    points: Annotated[Whole, Field(ge=3, le=100), Shown("Points")] = 5
    inner: Annotated[NumberTrack, Shown("Inner size", "%", low=0, high=100, what="an inner radius in percent")] = (
        NumberTrack(rest=45.0)
    )
    rounding: Annotated[NumberTrack, Shown("Rounding", "px", low=0, high=100_000, what=RADIUS)] = NumberTrack(rest=0.0)
    inner_rounding: Annotated[NumberTrack, Shown("Inner round", "px", low=0, high=100_000, what=RADIUS)] = NumberTrack(
        rest=0.0
    )

    def outline(self, values: Values) -> tuple[str, Floats]:
        outer = around(self.points)
        inner = around(self.points, 0.5) * (values["inner"] / 100)[:, :, None]
        both = np.stack(np.broadcast_arrays(outer, inner), axis=2).reshape(len(inner), -1, 2)
        corners = in_box(both, self.box(values))
        radii = np.stack(np.broadcast_arrays(values["rounding"], values["inner_rounding"]), axis=2)
        each = np.broadcast_to(radii, (len(radii), self.points, 2)).reshape(len(radii), -1)
        return filleted(corners, each)
