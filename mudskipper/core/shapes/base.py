"""What every shape is: a place, a fill and a stroke, and an outline of its own; most have a size."""

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
    """One shape; `at` is its origin in content pixels, whose own origin is that of the layer."""

    told_by: ClassVar[str] = "shape"
    noun: ClassVar[str] = "shape"
    label: ClassVar[str]
    grown: ClassVar[tuple[str, ...]] = ("at",)
    """The pairs that grow as its box is drawn larger."""

    at: Annotated[PairTrack, Shown("Offset", "px", ("x", "y"))] = PairTrack(rest=(0.0, 0.0))
    fill: Annotated[ColourTrack | None, Shown("Fill")] = None
    stroke: Annotated[Stroke | None, Shown("Stroke")] = None

    @abstractmethod
    def outline(self, values: Values) -> tuple[str, Floats]:
        """The outline in content pixels: constant verbs and their points (1 | n, 2k)."""

    @abstractmethod
    def box(self, values: Values) -> Floats:
        """left, top, width, height (1 | n, 4) in content pixels."""

    def draw(self, pen: Pen, values: Values) -> None:
        """Fill and stroke the outline."""
        verbs, points = self.outline(values)
        fill = values["fill"] if self.fill else None
        stroke, width = (values["stroke.colour"], values["stroke.width"]) if self.stroke else (None, None)
        pen.path(verbs, points, fill, stroke, width)


class SizedItem(ShapeItem):
    """A shape that fills its size about its centre, which stands at `at`."""

    grown: ClassVar[tuple[str, ...]] = ("at", "size")

    size: Annotated[PairTrack, Shown("Size", "px", ("w", "h"), low=0, high=100_000, what="a size in pixels")]

    def box(self, values: Values) -> Floats:
        origin, size = np.broadcast_arrays(values["at"] - values["size"] / 2, values["size"])
        return np.concatenate([origin, size], axis=1)
