"""A straight line."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.shown import Shown
from ..tracks.kinds import PairTrack
from .base import ShapeItem

SPECK = 0.01
"""Pixels."""


class Line(ShapeItem):
    """A line from `start` to `end`, pixels from `at`. It has no fill to be seen."""

    label: ClassVar[str] = "line"
    grown: ClassVar[tuple[str, ...]] = ("at", "start", "end")
    has_area: ClassVar[bool] = False

    shape: Literal["line"] = "line"
    start: Annotated[PairTrack, Shown("From", "px", ("x", "y"))]
    end: Annotated[PairTrack, Shown("To", "px", ("x", "y"))]

    def box(self, values: Values) -> Floats:
        start, end = np.broadcast_arrays(values["at"] + values["start"], values["at"] + values["end"])
        low = np.minimum(start, end)
        return np.concatenate([low, np.maximum(start, end) - low], axis=1)

    def plain_outline(self, values: Values) -> tuple[str, Floats]:
        ends = np.broadcast_arrays(values["at"] + values["start"], values["at"] + values["end"])
        return "ML", np.concatenate(ends, axis=1)

    def outline(self, values: Values) -> tuple[str, Floats]:
        start, end = np.broadcast_arrays(values["at"] + values["start"], values["at"] + values["end"])
        return straight_line(start, end, whole=not (self.stroke and self.stroke.in_pieces))


def straight_line(start: Floats, end: Floats, *, whole: bool) -> tuple[str, Floats]:
    """The outline of a line alone between points (1 | n, 2), stroked `whole` or in pieces."""
    if not whole:
        return "MLL", np.concatenate([start, (start + end) / 2, end], axis=1)
    # Rasterisers have short cuts for a line alone, and painters then differ by up to 120 of 255 at an edge.
    # A speck of a second line upon it, too short to be seen, keeps them on the general way.
    way = end - start
    speck = start + way * np.minimum(SPECK / np.maximum(np.hypot(way[:, :1], way[:, 1:]), SPECK), 1)
    return "MLML", np.concatenate([start, end, start, speck], axis=1)
