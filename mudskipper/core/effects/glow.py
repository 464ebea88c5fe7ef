"""Light around a picture."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.base_model import Flag
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .soft_blur import DEVIATIONS, blurring


class Glow(Effect):
    """A blurred copy of a picture, added to it as light (plus): in its own colours, or all of it in one. From 2 px of
    blur on painters agree to the byte."""

    label: ClassVar[str] = "glow"
    words: ClassVar[str] = "light, neon, bloom, shine"

    effect: Literal["glow"] = "glow"
    blur: Annotated[NumberTrack, Shown("Blur", "px", low=0, high=1_000, what="a blur in pixels")] = NumberTrack(
        rest=18.0
    )
    strength: Annotated[NumberTrack, Shown("Strength", "%", low=0, high=800, what="a strength in percent")] = (
        NumberTrack(rest=60.0)
    )
    colour: Annotated[ColourTrack, Shown("Colour")] = ColourTrack(rest="#ffd23fff")
    own: Annotated[Flag, Shown("Own colours")] = True

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["strength"] > 0)

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        return np.repeat(DEVIATIONS * values["blur"], 4, axis=1)

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.zeros((1, 4))

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The blur (16), the strength in 255ths (1), the colour (4), and whether it is in that (1): 22 columns."""
        amount = np.repeat(values["blur"], 2, axis=1)
        strength = np.rint(values["strength"] * 2.55)
        parts = [blurring(amount, matrix), strength, values["colour"], np.full((1, 1), not self.own)]
        return np.concatenate([np.broadcast_to(part, (len(matrix), part.shape[1])) for part in parts], axis=1)
