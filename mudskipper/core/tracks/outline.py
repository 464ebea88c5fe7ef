"""The points of an outline over time: a value is a list of points, as many in every key."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any

import numpy as np
from pydantic import Field, model_validator

from ..easings.batch import Ease
from ..ground.base_model import Model, Number
from ..ground.errors import Refused
from .base import KeyFrame, Track, Way

MOST_POINTS = 5_000
PER_POINT = 6

Point = tuple[Number, Number, Number, Number, Number, Number]
"""x, y, and the handles from it in pixels: that on which a curve arrives (x, y), that on which one leaves (x, y)."""
Points = Annotated[tuple[Point, ...], Field(min_length=1, max_length=MOST_POINTS)]


class OutlineKey(Model):
    """A key of the points of an outline."""

    frame: KeyFrame
    value: Points
    ease: Ease = "linear"


class OutlineTrack(Track):
    """The points of an outline over time; every key has as many as `rest`, so that one outline becomes another."""

    rest: Points
    keys: tuple[OutlineKey, ...] = ()

    @model_validator(mode="after")
    def _as_many(self) -> OutlineTrack:
        for key in self.keys:
            if len(key.value) != len(self.rest):
                raise ValueError(
                    f"every key must have as many points as the outline at rest, {len(self.rest)}, "
                    f"but that of frame {key.frame:g} has {len(key.value)}"
                )
        return self

    @property
    def dims(self) -> int:
        return PER_POINT * len(self.rest)

    @property
    def solvable(self) -> bool:
        return False

    def merged(self, given: Any, now: Any, label: str) -> Any:
        if not isinstance(given, list | tuple) or not all(isinstance(p, list | tuple) for p in given):
            raise Refused(f"{label} takes a list of points, and {given!r} was given.", where="value")
        if len(given) != len(now):
            raise Refused(
                f"{label} takes {len(now)} points, and {len(given)} were given.", where="value",
                mend="Add or remove points by their own edits; they hold for every key.",
            )  # fmt: skip
        return given

    def changed(self, now: Any, way: Way, by: float | str, part: int | None, label: str) -> Any:
        raise Refused(
            f"{label} are many numbers.", where="property", mend="Move the points on the stage, or type each of them."
        )

    def to_array(self, value: Any) -> list[float]:
        return [number for point in value for number in point]

    def from_array(self, numbers: Iterable[float]) -> Any:
        each = np.array(list(numbers), dtype=np.float64).reshape(-1, PER_POINT)
        return tuple(tuple(point) for point in each.tolist())
