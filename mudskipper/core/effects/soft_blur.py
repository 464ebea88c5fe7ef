"""A blur by a bell curve, as far along x as along y or not."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.blurs import small_blur
from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import PairTrack
from .base import Acts, Beneath, Effect, Values

DEVIATIONS = 3
"""So many deviations away a blur is less than half of 1/255; the three boxes that stand for it end before."""
FINE = 64.0
"""Pixels: a blur of a larger deviation is run on a smaller sheet, of which nothing is seen afterwards."""


class SoftBlur(Effect):
    """A Gaussian blur by a deviation of `amount` pixels along x and along y (Filter Effects 1, 9.16).

    In each 255th, from 2 px on, painters agree to the byte. Colours are blurred as they are stored (sRGB), as they lie
    over each other everywhere else here.
    """

    label: ClassVar[str] = "soft blur"
    words: ClassVar[str] = "softer, out of focus, background"

    effect: Literal["soft-blur"] = "soft-blur"
    amount: Annotated[
        PairTrack,
        Shown("Amount", "px", parts=("x", "y"), linked=True, low=0, high=1_000, what="a blur in pixels"),
    ] = PairTrack(rest=(10.0, 10.0))

    def acts(self, values: Values) -> Acts:
        return np.asarray((values["amount"] > 0).any(axis=1, keepdims=True))

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        return DEVIATIONS * values["amount"][:, [0, 1, 0, 1]]

    def share(self, values: Values, lengths: Floats) -> Floats:
        return np.asarray(FINE / np.maximum(values["amount"] * lengths, FINE))

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The deviations along x and y of the sheet, and the weights of both where they are below 2 px
        (`draw.blurs.small_blur`): 16 columns."""
        return blurring(values["amount"], matrix)


def blurring(amount: Floats, matrix: Floats) -> Floats:
    """What painters of a blur read (n, 16): `amount` (1 | n, 2) along the axes of what is blurred, on a sheet to which
    a matrix (n, 6) takes that."""
    along = [np.hypot(matrix[:, i] * amount[:, 0], matrix[:, i + 2] * amount[:, 1])[:, None] for i in (0, 1)]
    return np.concatenate([*along, *map(small_blur, along)], axis=1)
