"""One colour laid over all others."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.base_model import Flag
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import SHARE
from .tones import LIGHT, STEPS


class ColourWash(Effect):
    """All colours on the way to one, as they are stored (sRGB); with `shaded` to that as light and dark as they were.
    The opacity of the picture stays. Painters agree to the byte."""

    label: ClassVar[str] = "colour wash"
    words: ClassVar[str] = "tint, one colour, silhouette, fill"
    painted_by: ClassVar[str] = "table"

    effect: Literal["colour-wash"] = "colour-wash"
    colour: Annotated[ColourTrack, Shown("Colour")] = ColourTrack(rest="#d24b1eff")
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=60.0)
    shaded: Annotated[Flag, Shown("Light and dark stay")] = False

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """As those of tones: 780 columns."""
        colour = values["colour"]
        amount = (values["amount"] / 100.0 * colour[:, 3:] / 255.0)[:, :, None]
        rows = (1.0 - amount) * np.eye(3)
        rest = np.zeros((1, 3, 1))
        if self.shaded:
            rows = rows + amount * colour[:, :3, None] / 255.0 * LIGHT
        else:
            rest = amount * colour[:, :3, None]
        count = max(len(rows), len(rest))
        moved = np.concatenate([np.broadcast_to(rows, (count, 3, 3)), np.broadcast_to(rest, (count, 3, 1))], axis=2)
        tables = np.broadcast_to(np.tile(STEPS, 3), (count, 768))
        return np.concatenate([tables, moved.reshape(count, 12)], axis=1)
