"""A line around a picture."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values


class Outline(Effect):
    """A line of a width around all that can be seen of a picture, behind it: as far as a disc of that radius reaches.
    Both painters compute it in whole numbers, and agree to the byte."""

    label: ClassVar[str] = "outline"
    words: ClassVar[str] = "stroke, border, sticker, contour"

    effect: Literal["outline"] = "outline"
    colour: Annotated[ColourTrack, Shown("Colour")] = ColourTrack(rest="#ffffffff")
    width: Annotated[NumberTrack, Shown("Width", "px", low=0, high=200, what="a width in pixels")] = NumberTrack(
        rest=6.0
    )

    def acts(self, values: Values) -> Acts:
        return np.asarray((values["width"] > 0) & (values["colour"][:, 3:] > 0))

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        return np.repeat(values["width"] + 1.0, 4, axis=1)

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.zeros((1, 4))

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The width along x and y of the sheet, and the colour: 6 columns."""
        width = values["width"][:, 0]
        x, y = (np.hypot(matrix[:, i] * width, matrix[:, i + 2] * width)[:, None] for i in (0, 1))
        colour = np.broadcast_to(values["colour"], (len(matrix), 4))
        return np.concatenate([x, y, colour], axis=1)
