"""CSS `cubic-bezier()`."""

from __future__ import annotations

from typing import Annotated, ClassVar, Self

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats, coefficients, end_slopes, solve
from ..ground.base_model import Number
from .base import Easing, numbers

Unit = Annotated[float, Field(strict=True, ge=0, le=1)]


class Bezier(Easing):
    """CSS `cubic-bezier(x1, y1, x2, y2)`; x within 0…1, y free, so that a value may overshoot."""

    function: ClassVar[str] = "cubic-bezier"

    bezier: tuple[Unit, Number, Unit, Number]

    def progress(self, u: Floats) -> Floats:
        out = np.array(u, dtype=np.float64)
        inside = (u > 0) & (u < 1)
        table = np.array([coefficients(self.bezier)])
        out[inside] = solve(table, np.zeros(int(inside.sum()), dtype=np.intp), u[inside])
        return out

    def slope(self, end: int) -> float:
        return end_slopes(self.bezier)[end]

    @property
    def stays_between(self) -> bool:
        return 0 <= self.bezier[1] <= 1 and 0 <= self.bezier[3] <= 1

    @property
    def text(self) -> str:
        return "cubic-bezier({:g}, {:g}, {:g}, {:g})".format(*self.bezier)

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        found = numbers(cls.function, parts, 4)
        if not (0 <= found[0] <= 1 and 0 <= found[2] <= 1):
            raise ValueError("x1 and x2 of a cubic-bezier lie within 0 and 1")
        return cls.model_validate({"bezier": found})

    def kinks(self, start: float, end: float) -> Floats:
        ax, bx, cx, *_ = coefficients(self.bezier)
        s = np.linspace(0, 1, 1_025)
        steep = ((ax * s + bx) * s + cx) * s
        return np.asarray(steep[(steep > start) & (steep < end)])
