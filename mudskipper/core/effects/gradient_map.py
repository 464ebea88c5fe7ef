"""A gradient in place of all colours, from the dark to the light."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from ..tracks.stops import MOST_STOPS, Stop
from .base import Acts, Beneath, Effect, Values
from .on_sheet import SHARE, see_through
from .two_tone import mapped

PLACES = np.arange(256.0) / 255.0 * 100.0


def _stop(at: float, colour: str) -> Stop:
    return Stop(at=NumberTrack(rest=at), colour=ColourTrack(rest=colour))


STOPS = (_stop(0.0, "#0b1d33ff"), _stop(50.0, "#c2487aff"), _stop(100.0, "#ffe9b0ff"))


class GradientMap(Effect):
    """Each colour becomes that of a gradient at the place of its brightness, 0 % black and 100 % white, as colours are
    stored (sRGB; Filter Effects 1, 9.6). Painters agree to the byte."""

    label: ClassVar[str] = "gradient map"
    words: ClassVar[str] = "recolour, heat, tritone, stops"
    painted_by: ClassVar[str] = "map"

    effect: Literal["gradient-map"] = "gradient-map"
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=MOST_STOPS), Shown("Stops")] = STOPS
    amount: Annotated[NumberTrack, SHARE] = NumberTrack(rest=100.0)

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """How much of it, and a table of 256 colours by brightness: 1 + 1024 columns."""
        count = len(self.stops)
        ats = np.concatenate(np.broadcast_arrays(*(values[f"stops.{i}.at"] for i in range(count))), axis=1)
        ats = np.maximum.accumulate(np.clip(ats, 0.0, 100.0), axis=1)
        colours = [values[f"stops.{i}.colour"] for i in range(count)]
        table = np.broadcast_to(colours[0][:, None], (len(colours[0]), 256, 4))
        for index in range(1, count):
            low, high = ats[:, index - 1 : index], ats[:, index : index + 1]
            share = np.clip((PLACES[None] - low) / np.maximum(high - low, 1e-9), 0.0, 1.0)[:, :, None]
            before, after = colours[index - 1][:, None], colours[index][:, None]
            table = np.where((PLACES[None] >= low)[:, :, None], before + (after - before) * share, table)
        return mapped(values["amount"], np.asarray(table))

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return see_through([values[f"stops.{i}.colour"] for i in range(len(self.stops))])
