"""Two colours in place of all: from the dark to the light."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import SHARE, see_through

STEPS = np.arange(256.0) / 255.0


class TwoTone(Effect):
    """What is dark in one colour, what is light in another, what lies between mixed of both, by brightness as colours
    are stored (sRGB; Filter Effects 1, 9.6). The opacities of both count. Painters agree to the byte."""

    label: ClassVar[str] = "two-tone"
    words: ClassVar[str] = "duotone, recolour, black and white, print"
    painted_by: ClassVar[str] = "map"

    effect: Literal["two-tone"] = "two-tone"
    dark: Annotated[ColourTrack, Shown("Dark")] = ColourTrack(rest="#12454fff")
    light: Annotated[ColourTrack, Shown("Light")] = ColourTrack(rest="#ffb27aff")
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=100.0)

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How much of it, and a table of 256 colours by brightness: 1 + 1024 columns."""
        dark, light = values["dark"][:, None], values["light"][:, None]
        table = dark + (light - dark) * STEPS[None, :, None]
        return mapped(values["amount"], table)

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return see_through([values["dark"], values["light"]])


def mapped(amount: Floats, table: Floats) -> Floats:
    """What painters of a table of colours by brightness read: an amount (1 | n, 1) in percent, 256 colours."""
    flat = table.reshape(len(table), -1)
    rows = max(len(flat), len(amount))
    return np.concatenate([np.broadcast_to(part, (rows, part.shape[1])) for part in (amount / 100.0, flat)], axis=1)
