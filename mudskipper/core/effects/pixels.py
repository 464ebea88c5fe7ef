"""A mosaic of large cells."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import PairTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import origin_on, rows


class Pixels(Effect):
    """A mosaic: cells of so many pixels, each in the average of what lies in it. Painters agree to the byte."""

    label: ClassVar[str] = "pixels"
    words: ClassVar[str] = "mosaic, blocks, censor, squares"

    effect: Literal["pixels"] = "pixels"
    size: Annotated[PairTrack, Shown("Size", "px", ("x", "y"), linked=True, low=1, high=4_000, what="a size")] = (
        PairTrack(rest=(16.0, 16.0))
    )

    def acts(self, values: Values) -> Acts:
        return np.asarray((values["size"] > 1).any(axis=1, keepdims=True))

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        return values["size"][:, [0, 1, 0, 1]]

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The sides of a cell (2) and where one begins (2), on the sheet: 4 columns."""
        where = origin_on(matrix, Beneath(beneath.box, beneath.local))
        return rows(matrix, values["size"] * where[:, 2:], where[:, :2])
