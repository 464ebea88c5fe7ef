"""Pictures in stripes."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import EVERYWHERE, point_on, rows


class Stripes(Effect):
    """A picture in stripes: of every `period` pixels across them so many percent are left, the rest is see-through, or
    has a colour. Moved on by `shift`; painters agree to the byte."""

    label: ClassVar[str] = "stripes"
    words: ClassVar[str] = "blinds, lines, wipe, scan"

    effect: Literal["stripes"] = "stripes"
    period: Annotated[NumberTrack, Shown("Period", "px", low=1, high=10_000, what="a period in pixels")] = NumberTrack(
        rest=24.0
    )
    left: Annotated[NumberTrack, Shown("Left", "%", low=0, high=100, what="a share in percent")] = NumberTrack(
        rest=50.0
    )
    angle: Annotated[NumberTrack, Shown("Angle", "°")] = NumberTrack(rest=45.0)
    shift: Annotated[NumberTrack, Shown("Shift", "px")] = NumberTrack(rest=0.0)
    softness: Annotated[NumberTrack, Shown("Softness", "px", low=0, high=1_000, what="a softness in pixels")] = (
        NumberTrack(rest=0.0)
    )
    colour: Annotated[ColourTrack, Shown("Colour between")] = ColourTrack(rest="#00000000")

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["left"] < 100)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The way across them (2), where they begin along it (1), period, width and softness (3), on the sheet, and the
        colour (4): 10 columns."""
        angle = np.deg2rad(values["angle"])
        x, y = np.cos(angle)[:, 0], np.sin(angle)[:, 0]
        # Across the stripes as the sheet sees it: what stands upright on them is not turned as they are.
        a, b, c, d = (matrix[:, i] for i in range(4))
        area = np.where(np.abs(a * d - b * c) < 1e-12, 1e-12, a * d - b * c)
        across = np.stack([(d * x - b * y) / area, (a * y - c * x) / area], axis=1)
        long = np.maximum(np.hypot(across[:, 0], across[:, 1]), 1e-12)[:, None]
        unit = across / long
        start = (point_on(matrix, beneath.box[:, :2]) * unit).sum(axis=1, keepdims=True) + values["shift"] / long
        period = values["period"] / long
        return rows(
            matrix, unit, start, period, period * values["left"] / 100.0, values["softness"] / long, values["colour"]
        )

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.repeat(np.where(values["colour"][:, 3:] < 255, EVERYWHERE, 0.0), 4, axis=1)
