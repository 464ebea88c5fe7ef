"""The kinds of tracks beside colours: numbers, pairs, positions along a path, texts that a formula writes."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

import numpy as np
from pydantic import model_validator

from ..easings.batch import Ease
from ..geometry.bezier import Floats
from ..geometry.curved_path import PathStretch
from ..ground.base_model import Model, Number, Pair
from .base import KeyFrame, Track


class NumberKey(Model):
    """A key of a single number; `ease` rules the stretch to the next key."""

    frame: KeyFrame
    value: Number
    ease: Ease = "linear"


class PairKey(Model):
    """A key of a pair (x, y)."""

    frame: KeyFrame
    value: Pair
    ease: Ease = "linear"


class TextTrack(Track):
    """A text that a formula writes, frame by frame; without one, or where it fails, the text is as it was typed."""

    rest: Literal[""] = ""
    keys: tuple[NumberKey, ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _formula_alone(cls, data: Any) -> Any:
        if isinstance(data, dict) and (data.get("keys") or data.get("rest")):
            raise ValueError("is written by a formula, and has no keys and no value of its own")
        return data

    @property
    def dims(self) -> int:
        return 0

    def to_array(self, value: Any) -> list[float]:
        return []

    def from_array(self, numbers: Iterable[float]) -> Any:
        return ""


class NumberTrack(Track):
    """A single number over time."""

    rest: Number
    keys: tuple[NumberKey, ...] = ()


class PairTrack(Track):
    """A pair (x, y) over time."""

    rest: Pair
    keys: tuple[PairKey, ...] = ()

    @property
    def dims(self) -> int:
        return 2

    def to_array(self, value: Any) -> list[float]:
        return list(value)

    def from_array(self, numbers: Iterable[float]) -> Any:
        x, y = numbers
        return (float(x), float(y))


class PathKey(PairKey):
    """A key of a position. `leave` and `arrive` are its handles in pixels from the key; without any the path is
    straight."""

    leave: Pair | None = None
    arrive: Pair | None = None


class PathTrack(PairTrack):
    """A position over time, along a path that may be curved; travel along a curve is by arc length."""

    keys: tuple[PathKey, ...] = ()

    def _paths(self, values: Floats) -> dict[int, PathStretch]:
        found = {}
        for number, (key, after) in enumerate(zip(self.keys, self.keys[1:], strict=False)):
            if key.leave is not None or after.arrive is not None:
                handles = np.array([key.leave or (0.0, 0.0), after.arrive or (0.0, 0.0)])
                stretch = PathStretch(values[number], handles[0], handles[1], values[number + 1])
                if stretch.length > 0:
                    found[number] = stretch
        return found
