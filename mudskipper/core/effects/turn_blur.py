"""A blur round a point, as of what turns fast."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Values
from .on_sheet import CENTRE, MIDDLE
from .spread_blur import SpreadBlur


class TurnBlur(SpreadBlur):
    """Blurred round a point: by so many degrees, half of them each way."""

    label: ClassVar[str] = "turn blur"
    words: ClassVar[str] = "spin, radial, rotation, round"
    points: ClassVar[tuple[str, ...]] = ("centre",)

    effect: Literal["turn-blur"] = "turn-blur"
    angle: Annotated[NumberTrack, Shown("Angle", "°", low=0, high=360, what="an angle in degrees")] = NumberTrack(
        rest=20.0
    )
    centre: Annotated[PairTrack, CENTRE] = MIDDLE

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["angle"] > 0)

    def moved(self, values: Values, share: float, beneath: Beneath) -> Floats:
        angle, (x, y) = np.deg2rad(values["angle"] * share), np.moveaxis(beneath.at(values["centre"]), 1, 0)
        cos, sin, x, y = np.broadcast_arrays(np.cos(angle), np.sin(angle), x[:, None], y[:, None])
        return np.concatenate([cos, sin, -sin, cos, x - cos * x + sin * y, y - sin * x - cos * y], axis=1)
