"""What every shape is: a centre, a size, a fill and a stroke, and an outline of its own."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping
from typing import Annotated, ClassVar

import numpy as np

from ..base_model import Model
from ..bezier import Floats
from ..draw.pen import Pen
from ..shown import Shown
from ..tracks import ColourTrack, NumberTrack, PairTrack

Values = Mapping[str, Floats]
"""Evaluated tracks by the path that they have in their model, (1 | n, d) each."""


class Stroke(Model):
    """A line along the outline, centred on it."""

    colour: Annotated[ColourTrack, Shown("Stroke")]
    width: Annotated[
        NumberTrack, Shown("Stroke width", "px", step=0.5, low=0, high=10_000, what="a stroke width in pixels")
    ] = NumberTrack(rest=4.0)


class ShapeItem(Model):
    """One shape; `at` is its centre in content pixels, the origin being the layer's own."""

    told_by: ClassVar[str] = "shape"
    noun: ClassVar[str] = "shape"
    label: ClassVar[str]

    at: Annotated[PairTrack, Shown("Offset", "px", ("x", "y"))] = PairTrack(rest=(0.0, 0.0))
    size: Annotated[PairTrack, Shown("Size", "px", ("w", "h"), low=0, high=100_000, what="a size in pixels")]
    fill: Annotated[ColourTrack | None, Shown("Fill")] = None
    stroke: Annotated[Stroke | None, Shown("Stroke")] = None

    @abstractmethod
    def outline(self, values: Values) -> tuple[str, Floats]:
        """The outline in content pixels: constant verbs and their points (1 | n, 2k)."""

    @staticmethod
    def box(values: Values) -> Floats:
        """left, top, width, height (1 | n, 4) in content pixels."""
        origin, size = np.broadcast_arrays(values["at"] - values["size"] / 2, values["size"])
        return np.concatenate([origin, size], axis=1)

    def draw(self, pen: Pen, values: Values) -> None:
        """Fill and stroke the outline."""
        verbs, points = self.outline(values)
        fill = values["fill"] if self.fill else None
        stroke, width = (values["stroke.colour"], values["stroke.width"]) if self.stroke else (None, None)
        pen.path(verbs, points, fill, stroke, width)
