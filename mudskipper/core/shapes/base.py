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
from ..tracks import ColourTrack, PairTrack
from .stroke import Stroke

Values = Mapping[str, Floats]
"""Evaluated tracks by the path that they have in their model, (1 | n, d) each."""


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
        if self.fill:
            pen.path(verbs, points, values["fill"])
        if self.stroke:
            own = {name.removeprefix("stroke."): v for name, v in values.items() if name.startswith("stroke.")}
            self.stroke.draw(pen, verbs, points, own)


class SizedItem(ShapeItem):
    """A shape that fills its size about its centre, which stands at `at`."""

    grown: ClassVar[tuple[str, ...]] = ("at", "size")

    size: Annotated[PairTrack, Shown("Size", "px", ("w", "h"), low=0, high=100_000, what="a size in pixels")]

    def box(self, values: Values) -> Floats:
        origin, size = np.broadcast_arrays(values["at"] - values["size"] / 2, values["size"])
        return np.concatenate([origin, size], axis=1)
