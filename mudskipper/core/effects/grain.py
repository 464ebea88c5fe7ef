"""Grain over a picture."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import Flag, Whole
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import SHARE, Seed, origin_on


class Grain(Effect):
    """Each cell of so many pixels a little lighter or darker, at random by a seed: grey or of a colour of its own,
    another every `hold` frames, or still. The same numbers on both sides: painters agree to the byte."""

    label: ClassVar[str] = "grain"
    words: ClassVar[str] = "film, noise, banding, texture"

    effect: Literal["grain"] = "grain"
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=12.0)
    size: Annotated[NumberTrack, Shown("Size", "px", step=0.5, low=1, high=200, what="a size in pixels")] = NumberTrack(
        rest=1.5
    )
    coloured: Annotated[Flag, Shown("In colour")] = False
    still: Annotated[Flag, Shown("Still")] = False
    hold: Annotated[Whole, Field(ge=1, le=1_000), Shown("Hold", "f")] = 2
    seed: Seed = 1

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How strong (1), the side of a cell (2) and where one begins (2), on the sheet, the seed (1), whether in
        colour (1): 7 columns."""
        count = max(len(matrix), 1 if self.still else len(beneath.local))
        m = np.broadcast_to(matrix, (count, 6))
        where = origin_on(m, beneath)
        turn = np.zeros(1) if self.still else np.floor(beneath.local / self.hold)
        seed = np.broadcast_to((self.seed * 7_919.0 + turn * 104_729.0) % 16_777_216.0, (count,))
        amount, size = (np.broadcast_to(values[name], (count, 1)) for name in ("amount", "size"))
        parts = [amount / 100.0, size * where[:, 2:], where[:, :2], seed[:, None], np.full((count, 1), self.coloured)]
        return np.concatenate(parts, axis=1)
