"""Swollen about a point, or drawn in."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import CENTRE, MIDDLE, point_on, rows


class Bulge(Effect):
    """Swollen about a point, or drawn in: within a radius what lies at a share r of that is drawn from r to the power
    of 1 + amount, bilinear. Both painters compute it alike, and differ by 1 of 255 at most."""

    label: ClassVar[str] = "bulge"
    words: ClassVar[str] = "lens, swell, pinch, fish-eye, displacement"
    painted_by: ClassVar[str] = "bulge"
    points: ClassVar[tuple[str, ...]] = ("centre",)

    effect: Literal["bulge"] = "bulge"
    amount: Annotated[NumberTrack, Shown("Amount", "%", low=-90, high=400, what="an amount in percent")] = NumberTrack(
        rest=60.0
    )
    radius: Annotated[NumberTrack, Shown("Radius", "px", low=1, high=20_000, what="a radius in pixels")] = NumberTrack(
        rest=200.0
    )
    centre: Annotated[PairTrack, CENTRE] = MIDDLE

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] != 0)

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        return np.repeat(values["radius"], 4, axis=1)

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        return np.repeat(values["radius"], 4, axis=1)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """The centre (2) and the radius along x and y (2), on the sheet, and the power (1): 5 columns."""
        radius = np.broadcast_to(values["radius"], (len(matrix), 1))[:, 0]
        x, y = (np.hypot(matrix[:, i], matrix[:, i + 2]) * radius for i in (0, 1))
        power = 1.0 + values["amount"] / 100.0
        return rows(matrix, point_on(matrix, beneath.at(values["centre"])), x[:, None], y[:, None], power)
