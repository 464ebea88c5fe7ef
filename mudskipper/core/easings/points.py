"""CSS `linear()`."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, ClassVar, Self

import numpy as np
from pydantic import Field, model_validator

from ..geometry.bezier import Floats
from ..ground.base_model import Number
from .base import Breaks, Easing, number
from .bezier import Unit

SAME_TIME = 1e-12
"""A part of the time that floats lose: so near a point is reached."""


class Points(Easing):
    """CSS `linear()`: straight from point to point, each (time fraction, share of the way)."""

    function: ClassVar[str] = "linear"

    points: Annotated[tuple[tuple[Unit, Number], ...], Field(min_length=2, max_length=25_000)]

    @model_validator(mode="after")
    def _in_order(self) -> Points:
        times = [u for u, _ in self.points]
        if times != sorted(times) or times[0] != 0 or times[-1] != 1:
            raise ValueError("points must stand in order of time, the first at 0 and the last at 1")
        return self

    def progress(self, u: Floats) -> Floats:
        """CSS Easing Functions Level 2, linear(): of two points at one time the later rules."""
        times, values = np.array(self.points).T
        at = np.clip(np.searchsorted(times, u + SAME_TIME, side="right") - 1, 0, len(times) - 2)
        wide = times[at + 1] - times[at]
        share = np.where(wide > 0, (u - times[at]) / np.where(wide > 0, wide, 1), 1.0)
        return np.asarray(values[at] + (values[at + 1] - values[at]) * share)

    def slope(self, end: int) -> float:
        (u0, v0), (u1, v1) = self.points[-2:] if end else self.points[:2]
        return (v1 - v0) / (u1 - u0) if u1 > u0 else 0.0

    @property
    def text(self) -> str:
        return "linear({})".format(", ".join(f"{share:g} {u * 100:g}%" for u, share in self.points))

    @property
    def words(self) -> str:
        return f"linear() with {len(self.points)} points"

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        """Shares with percentages, those left out spread evenly between their neighbours."""
        shares: list[float] = []
        times: list[float | None] = []
        for part in parts:
            words = part.split()
            marks: list[float | None] = [number(word[:-1]) / 100 for word in words if word.endswith("%")]
            plain = [number(word) for word in words if not word.endswith("%")]
            if len(plain) != 1:
                raise ValueError("each point of linear() is one number, with one or two percentages")
            (share,) = plain
            shares += [share] * max(len(marks), 1)
            times += marks or [None]
        if len(shares) < 2:
            raise ValueError("linear() takes two points at least")
        times[0] = 0.0 if times[0] is None else times[0]
        times[-1] = 1.0 if times[-1] is None else times[-1]
        known = [index for index, time in enumerate(times) if time is not None]
        for left, right in pairwise(known):
            start, end = times[left] or 0.0, times[right] or 0.0
            for index in range(left + 1, right):
                times[index] = start + (end - start) * (index - left) / (right - left)
        points = [(float(time or 0.0), share) for time, share in zip(times, shares, strict=True)]
        return cls.model_validate({"points": points})

    @property
    def jumps(self) -> bool:
        return True

    def breaks(self, start: float, end: float) -> Breaks:
        """Points between two times, free ends and jumps kept."""
        # Times that were cut before are off by what floats lose.
        inner = [(u, v) for u, v in self.points if start + SAME_TIME < u < end - SAME_TIME]
        ends = self.progress(np.array([start, end]))
        found = [(start, float(ends[0])), *inner]
        at_end = [(end, v) for u, v in self.points if abs(u - end) <= SAME_TIME]
        if at_end:
            found.append(at_end[0])
        if not at_end or at_end[-1][1] != at_end[0][1]:
            found.append((end, float(ends[1])))
        return found
