"""CSS `steps()`."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..geometry.bezier import Floats
from ..ground.base_model import Whole
from .base import Breaks, Easing, whole


class Steps(Easing):
    """CSS `steps(n, jump)`."""

    function: ClassVar[str] = "steps"

    steps: Annotated[Whole, Field(ge=1, le=10_000)]
    jump: Literal["start", "end", "none", "both"] = "end"

    @model_validator(mode="after")
    def _two_levels(self) -> Steps:
        if self.jump == "none" and self.steps < 2:
            raise ValueError("steps with jump none needs at least 2 steps")
        return self

    def progress(self, u: Floats) -> Floats:
        """CSS Easing Functions Level 2, step easing functions."""
        level = np.floor(np.clip(u, 0, 1) * self.steps + 1e-12)
        if self.jump in ("start", "both"):
            level += 1
        jumps = self.steps + {"start": 0, "end": 0, "none": -1, "both": 1}[self.jump]
        return np.asarray(np.clip(level, 0, jumps) / jumps)

    def slope(self, end: int) -> float:
        return 0.0

    @property
    def text(self) -> str:
        return f"steps({self.steps}, jump-{self.jump})"

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        jump = parts[1] if len(parts) > 1 else "end"
        jump = {"start": "start", "end": "end"}.get(jump, jump.removeprefix("jump-"))
        steps = whole(parts[0], "steps() takes a whole number of steps")
        return cls.model_validate({"steps": steps, "jump": jump})

    @property
    def stays_between(self) -> bool:
        return True

    @property
    def jumps(self) -> bool:
        return True

    def breaks(self, start: float, end: float) -> Breaks:
        """The levels between two times, the last of them until the end."""
        edges = np.arange(1, self.steps) / self.steps
        inside = edges[(edges > start + 1e-12) & (edges < end - 1e-12)]
        found = [(start, float(self.progress(np.array([start]))[0]))]
        for edge, before, after in zip(inside, self.progress(inside - 1e-10), self.progress(inside), strict=True):
            found += [(float(edge), float(before)), (float(edge), float(after))]
        last = [(end, found[-1][1])]
        if end == 1:
            last.append((1.0, float(self.progress(np.array([1.0]))[0])))
        return [*found, *last]
