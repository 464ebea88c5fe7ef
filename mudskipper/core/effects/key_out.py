"""A colour made see-through."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.base_model import Flag
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Beneath, Effect, Values
from .on_sheet import EVERYWHERE, rows


class KeyOut(Effect):
    """A colour made see-through, such as the green of a ground. What is as near to it as the tolerance (in 255ths of
    its two colour differences, BT.601, whatever its brightness) is gone, what is further by the softness is whole;
    `spill` takes what is left of it off the rest. Painters agree to the byte."""

    label: ClassVar[str] = "keying out a colour"
    words: ClassVar[str] = "green, chroma, ground, cut out, transparent"

    effect: Literal["key-out"] = "key-out"
    colour: Annotated[ColourTrack, Shown("Colour")] = ColourTrack(rest="#22b14cff")
    tolerance: Annotated[NumberTrack, Shown("Tolerance", "", low=0, high=255, what="a tolerance")] = NumberTrack(
        rest=30.0
    )
    softness: Annotated[NumberTrack, Shown("Softness", "", low=0, high=255, what="a softness")] = NumberTrack(rest=20.0)
    spill: Annotated[NumberTrack, Shown("Spill", "%", low=0, high=100, what="an amount in percent")] = NumberTrack(
        rest=60.0
    )
    matte: Annotated[Flag, Shown("Show what is left")] = False

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The colour (3), tolerance, softness and spill (3), whether to show what is left (1): 7 columns."""
        return rows(
            matrix, values["colour"][:, :3], values["tolerance"], np.maximum(values["softness"], 0.5),
            values["spill"] / 100.0, np.full((1, 1), self.matte),
        )  # fmt: skip

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.full((1, 4), EVERYWHERE)
