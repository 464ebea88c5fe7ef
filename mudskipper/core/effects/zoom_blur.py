"""A blur away from a point, as of what comes fast."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Values
from .on_sheet import CENTRE, MIDDLE
from .spread_blur import SpreadBlur


class ZoomBlur(SpreadBlur):
    """Blurred away from a point: from smaller to larger by so many percent."""

    label: ClassVar[str] = "zoom blur"
    words: ClassVar[str] = "burst, radial, rush, push in"
    points: ClassVar[tuple[str, ...]] = ("centre",)

    effect: Literal["zoom-blur"] = "zoom-blur"
    amount: Annotated[NumberTrack, Shown("Amount", "%", low=0, high=900, what="an amount in percent")] = NumberTrack(
        rest=20.0
    )
    centre: Annotated[PairTrack, CENTRE] = MIDDLE

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["amount"] > 0)

    def moved(self, values: Values, share: float, beneath: Beneath) -> Floats:
        (x, y) = np.moveaxis(beneath.at(values["centre"]), 1, 0)
        grown, x, y = np.broadcast_arrays((1.0 + values["amount"] / 100.0) ** share, x[:, None], y[:, None])
        zero = np.zeros_like(grown)
        return np.concatenate([grown, zero, zero, grown, x - grown * x, y - grown * y], axis=1)
