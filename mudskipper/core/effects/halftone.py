"""Dots of ink on paper."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import SHARE, origin_on, rows, see_through


class Halftone(Effect):
    """Dots of ink on paper in a grid that is turned by an angle: the darker, the larger (sRGB brightness), until they
    flow together. Painters agree to the byte."""

    label: ClassVar[str] = "halftone"
    words: ClassVar[str] = "dots, print, comic, screen"

    effect: Literal["halftone"] = "halftone"
    ink: Annotated[ColourTrack, Shown("Ink")] = ColourTrack(rest="#1b2628ff")
    paper: Annotated[ColourTrack, Shown("Paper")] = ColourTrack(rest="#fff8eaff")
    size: Annotated[NumberTrack, Shown("Size", "px", low=2, high=1_000, what="a size in pixels")] = NumberTrack(
        rest=10.0
    )
    angle: Annotated[NumberTrack, Shown("Angle", "°")] = NumberTrack(rest=30.0)
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=100.0)

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How much of it (1), the side of a cell (1) and its angle (1), where one begins (2), on the sheet, ink and
        paper (8): 13 columns."""
        where = origin_on(matrix, beneath)
        size = values["size"] * np.sqrt(where[:, 2:3] * where[:, 3:])
        turned = np.arctan2(matrix[:, 1:2], matrix[:, 0:1])
        angle = np.deg2rad(values["angle"]) + turned
        return rows(matrix, values["amount"] / 100.0, size, angle, where[:, :2], values["ink"], values["paper"])

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return see_through([values["ink"], values["paper"]])
