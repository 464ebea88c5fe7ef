"""A damped spring."""

from __future__ import annotations

from typing import Annotated, ClassVar, Self

from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import Model
from . import functions as motions
from .base import FINE, Easing, numbers


class SpringNumbers(Model):
    """The period of the undamped spring as a share of the stretch, and the damping ratio."""

    response: Annotated[float, Field(strict=True, ge=0.02, le=2)] = 0.35
    damping: Annotated[float, Field(strict=True, ge=0.05, le=3)] = 0.5


class Spring(Easing):
    """A damped spring that settles on the key."""

    function: ClassVar[str] = "spring"

    spring: SpringNumbers

    def progress(self, u: Floats) -> Floats:
        return motions.spring(u, self.spring.response, self.spring.damping)

    def slope(self, end: int) -> float:
        return motions.spring_slope(float(end), self.spring.response, self.spring.damping)

    @property
    def text(self) -> str:
        return f"spring({self.spring.response:g}, {self.spring.damping:g})"

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        response, damping = numbers(cls.function, parts, 2)
        return cls.model_validate({"spring": {"response": response, "damping": damping}})

    @property
    def pieces(self) -> int:
        return max(FINE, int(100 / self.spring.response))
