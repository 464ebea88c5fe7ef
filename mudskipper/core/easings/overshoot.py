"""Beyond the goal and back."""

from __future__ import annotations

from typing import Annotated, ClassVar, Self

from pydantic import Field

from ..geometry.bezier import Floats
from . import functions as motions
from .base import Easing, numbers


class Overshoot(Easing):
    """Beyond the goal by this many percent of the way, and back."""

    function: ClassVar[str] = "overshoot"

    overshoot: Annotated[float, Field(strict=True, ge=0, le=300)]

    def progress(self, u: Floats) -> Floats:
        return motions.overshoot(u, self.overshoot)

    def slope(self, end: int) -> float:
        return motions.overshoot_slope(float(end), self.overshoot)

    @property
    def text(self) -> str:
        return f"overshoot({self.overshoot:g})"

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        (far,) = numbers(cls.function, [part.removesuffix("%") for part in parts], 1)
        return cls.model_validate({"overshoot": far})
