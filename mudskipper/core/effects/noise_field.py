"""A field of noise, a ground of its own."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import SHARE, Seed, origin_on, see_through


class NoiseField(Effect):
    """Clouds of noise between two colours wherever the picture is: a ground of its own.

    Random numbers on a lattice of `size` pixels, smooth between them (3u² − 2u³), and so many finer ones of half the
    size and strength (`turbulence`); `evolution` goes from one field to the next. Painters agree to the byte.
    """

    label: ClassVar[str] = "noise field"
    words: ClassVar[str] = "clouds, fog, turbulence, ground, texture, water"
    painted_by: ClassVar[str] = "field"

    effect: Literal["noise-field"] = "noise-field"
    dark: Annotated[ColourTrack, Shown("Dark")] = ColourTrack(rest="#12454fff")
    light: Annotated[ColourTrack, Shown("Light")] = ColourTrack(rest="#bfe0dbff")
    size: Annotated[PairTrack, Shown("Size", "px", ("x", "y"), linked=True, low=2, high=10_000, what="a size")] = (
        PairTrack(rest=(160.0, 160.0))
    )
    turbulence: Annotated[Whole, Field(ge=1, le=8), Shown("Turbulence")] = 3
    evolution: Annotated[NumberTrack, Shown("Evolution", "", step=0.1)] = NumberTrack(rest=0.0)
    contrast: Annotated[NumberTrack, Shown("Contrast", "%", low=0, high=1_000, what="a contrast in percent")] = (
        NumberTrack(rest=150.0)
    )
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=100.0)
    seed: Seed = 1

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How much of it (1), the side of a cell (2) and where one begins (2), on the sheet, how many lattices (1), the
        evolution (1), the contrast (1), the seed (1), both colours (8): 17 columns."""
        count = len(matrix)
        where = origin_on(matrix, beneath)
        size = np.broadcast_to(values["size"], (count, 2))
        whole, seed = np.full((count, 1), float(self.turbulence)), np.full((count, 1), float(self.seed))
        named = {name: np.broadcast_to(array, (count, array.shape[1])) for name, array in values.items()}
        parts = [
            named["amount"] / 100.0, size * where[:, 2:], where[:, :2], whole, named["evolution"],
            named["contrast"] / 100.0, seed, named["dark"], named["light"],
        ]  # fmt: skip
        return np.concatenate(parts, axis=1)

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return see_through([values["dark"], values["light"]])
