"""A fall with bounces."""

from __future__ import annotations

from typing import Annotated, ClassVar, Self

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import Model, Whole
from . import functions as motions
from .base import Easing, numbers, whole


class BounceNumbers(Model):
    """How many bounces, and which share of its height each loses."""

    count: Annotated[Whole, Field(ge=1, le=12)] = 3
    damping: Annotated[float, Field(strict=True, gt=0, lt=1)] = 0.6


class Bounce(Easing):
    """A fall to the goal with bounces."""

    function: ClassVar[str] = "bounce"

    bounce: BounceNumbers

    def progress(self, u: Floats) -> Floats:
        return motions.bounce(u, self.bounce.count, self.bounce.damping)

    def slope(self, end: int) -> float:
        return motions.bounce_slope(end, self.bounce.count, self.bounce.damping)

    @property
    def text(self) -> str:
        return f"bounce({self.bounce.count}, {self.bounce.damping:g})"

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        _, damping = numbers(cls.function, parts, 2)
        given = parts if len(parts) > 1 else parts[0].split()
        count = whole(given[0], "bounce() takes a whole number of bounces")
        return cls.model_validate({"bounce": {"count": count, "damping": damping}})

    def kinks(self, start: float, end: float) -> Floats:
        landings = motions.landings(self.bounce.count, self.bounce.damping)
        return np.asarray(landings[(landings > start) & (landings < end)])
