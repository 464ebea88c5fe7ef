"""A blur straight on, as of what goes fast."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Values
from .spread_blur import SpreadBlur


class DirectionalBlur(SpreadBlur):
    """Blurred straight on: by `length` pixels along an angle, 0 to the right, clockwise."""

    label: ClassVar[str] = "directional blur"
    words: ClassVar[str] = "motion, speed, smear, whip"

    effect: Literal["directional-blur"] = "directional-blur"
    length: Annotated[NumberTrack, Shown("Length", "px", low=0, high=4_000, what="a length in pixels")] = NumberTrack(
        rest=60.0
    )
    angle: Annotated[NumberTrack, Shown("Angle", "°")] = NumberTrack(rest=0.0)

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["length"] > 0)

    def moved(self, values: Values, share: float, beneath: Beneath) -> Floats:
        angle, length = np.deg2rad(values["angle"]), values["length"] * share
        x, y = np.broadcast_arrays(np.cos(angle) * length, np.sin(angle) * length)
        one, zero = np.ones_like(x), np.zeros_like(x)
        return np.concatenate([one, zero, zero, one, x, y], axis=1)
