"""A shadow behind a picture, or within it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.base_model import Flag
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Effect, Values
from .soft_blur import DEVIATIONS, blurring


class Shadow(Effect):
    """The shape of a picture in one colour, blurred and moved, behind it; or, `inner`, what lies around it, over it.

    Moved by `offset` pixels, and by a `distance` along an angle besides (0 to the right, clockwise); `spread` makes its
    edges harder and wider, at 100 % they are hard. From 2 px of blur on painters agree to the byte.
    """

    label: ClassVar[str] = "shadow"
    words: ClassVar[str] = "drop, depth, lift, inner"

    effect: Literal["shadow"] = "shadow"
    colour: Annotated[ColourTrack, Shown("Colour")] = ColourTrack(rest="#0b2026a0")
    blur: Annotated[NumberTrack, Shown("Blur", "px", low=0, high=1_000, what="a blur in pixels")] = NumberTrack(
        rest=12.0
    )
    offset: Annotated[PairTrack, Shown("Offset", "px", ("x", "y"))] = PairTrack(rest=(8.0, 12.0))
    angle: Annotated[NumberTrack, Shown("Angle", "°")] = NumberTrack(rest=45.0)
    distance: Annotated[NumberTrack, Shown("Distance", "px", low=0, high=10_000, what="a distance in pixels")] = (
        NumberTrack(rest=0.0)
    )
    spread: Annotated[NumberTrack, Shown("Spread", "%", low=0, high=100, what="a spread in percent")] = NumberTrack(
        rest=0.0
    )
    inner: Annotated[Flag, Shown("Inner")] = False

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["colour"][:, 3:] > 0)

    def _away(self, values: Values) -> Floats:
        angle = np.deg2rad(values["angle"])
        return np.asarray(
            values["offset"] + values["distance"] * np.concatenate([np.cos(angle), np.sin(angle)], axis=1)
        )

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        away, blurred = self._away(values), DEVIATIONS * values["blur"]
        x, y = away[:, :1], away[:, 1:]
        found = np.concatenate(np.broadcast_arrays(blurred - x, blurred - y, blurred + x, blurred + y), axis=1)
        return np.asarray(np.maximum(found, 0.0))

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.zeros((1, 4))

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How far it is moved on the sheet (2), the blur (16), by how much its opacity is multiplied (1), its colour
        (4), and whether it is an inner one (1): 24 columns."""
        away = self._away(values)
        x, y = (matrix[:, i] * away[:, 0] + matrix[:, i + 2] * away[:, 1] for i in (0, 1))
        amount = np.repeat(values["blur"], 2, axis=1)
        gain = 1.0 / np.maximum(1.0 - values["spread"] / 100.0, 1.0 / 255.0)
        parts = [x[:, None], y[:, None], blurring(amount, matrix), gain, values["colour"], np.full((1, 1), self.inner)]
        return np.concatenate([np.broadcast_to(part, (len(matrix), part.shape[1])) for part in parts], axis=1)
