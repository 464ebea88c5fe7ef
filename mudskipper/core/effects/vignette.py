"""A colour that comes in from the edges."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import CENTRE, MIDDLE, SHARE, origin_on, point_on, rows


class Vignette(Effect):
    """A colour that comes in from the edges: nothing of it within `size` percent of the way from the centre to the
    edges, all of it at `size` and `softness` percent. Painters agree to the byte."""

    label: ClassVar[str] = "vignette"
    words: ClassVar[str] = "edges, darker, lens, frame"
    points: ClassVar[tuple[str, ...]] = ("centre",)

    effect: Literal["vignette"] = "vignette"
    colour: Annotated[ColourTrack, Shown("Colour")] = ColourTrack(rest="#061318ff")
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=70.0)
    size: Annotated[NumberTrack, Shown("Size", "%", low=0, high=400, what="a size in percent")] = NumberTrack(rest=60.0)
    softness: Annotated[NumberTrack, Shown("Softness", "%", low=0, high=400, what="a softness in percent")] = (
        NumberTrack(rest=70.0)
    )
    centre: Annotated[PairTrack, CENTRE] = MIDDLE

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How much of it (1), from where to where it comes (2), the centre (2) and how far the edges are (2), on the
        sheet, the colour (3): 10 columns."""
        amount = values["amount"] / 100.0 * values["colour"][:, 3:] / 255.0
        first = values["size"] / 100.0
        lengths = origin_on(matrix, beneath)[:, 2:]
        half = np.maximum(np.broadcast_to(beneath.box[:, 2:], lengths.shape) / 2.0 * lengths, 1e-3)
        quarter = (matrix[:, :1] == 0) & (matrix[:, 3:4] == 0)
        half = np.where(quarter, half[:, ::-1], half)
        last = first + np.maximum(values["softness"], 0.01) / 100.0
        return rows(
            matrix, amount, first, last, point_on(matrix, beneath.at(values["centre"])), half, values["colour"][:, :3]
        )
