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
from ..ground.errors import Refused
from .base import SAME, KeyFrame, Track, Way


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

    @property
    def solvable(self) -> bool:
        return False

    def merged(self, given: Any, now: Any, label: str) -> Any:
        raise Refused(
            f"{label} is written by a formula, and {given!r} was given.", where="value",
            mend="Change the formula, or take it off.",
        )  # fmt: skip

    def changed(self, now: Any, way: Way, by: float | str, part: int | None, label: str) -> Any:
        raise Refused(
            f"{label} are words, and no number.", where="property", mend="Type the words of one text at a time."
        )

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

    def merged(self, given: Any, now: Any, label: str) -> Any:
        if not isinstance(given, list | tuple) or len(given) != 2:
            raise Refused(
                f"{label} takes a pair [x, y], and {given!r} was given.",
                where="value", mend="Give null for the part that is to stay.",
            )  # fmt: skip
        return tuple(old if new is None else new for new, old in zip(given, now, strict=True))

    def in_ratio(self, given: Any, now: Any) -> Any:
        """A pair of which one part is null with that part in the ratio that it has to the other now; 1 where that is 0.

        >>> pair = PairTrack(rest=(20.0, 10.0))
        >>> pair.in_ratio((30.0, None), (20.0, 10.0)), pair.in_ratio((None, 30.0), (20.0, 0.0))
        ((30.0, 15.0), (30.0, 30.0))
        """
        if not isinstance(given, list | tuple) or sum(n is None for n in given) != 1:
            return given
        there = 0 if given[1] is None else 1
        ratio = now[1 - there] / now[there] if now[there] else 1.0
        # As fine as documents are written by hand: 150 × 0.7 is 105.
        other = round(given[there] * ratio, 6)
        return (given[there], other) if there == 0 else (other, given[there])

    def changed(self, now: Any, way: Way, by: float | str, part: int | None, label: str) -> Any:
        one = super().changed
        return tuple(one(n, way, by, None, label) if part in (None, i) else n for i, n in enumerate(now))


class PathKey(PairKey):
    """A key of a position. `leave` and `arrive` are its handles in pixels from the key; without any the path is
    straight."""

    leave: Pair | None = None
    arrive: Pair | None = None


class PathTrack(PairTrack):
    """A position over time, along a path that may be curved; travel along a curve is by arc length."""

    keys: tuple[PathKey, ...] = ()

    @property
    def parts(self) -> dict[str, tuple[slice, Track]]:
        """The tracks of a position by their paths, each with the numbers of the pair that it gives: one."""
        return {"position": (slice(0, 2), self)}

    def with_parts(self, position: Track) -> Track:
        """The position of these tracks."""
        return position

    def under(self, linear: Floats, shift: Floats) -> Track:
        """Under a matrix (2, 2) and a shift (2,); the path keeps its keys, its handles turn along."""

        def point(value: Any) -> tuple[float, float]:
            x, y = linear @ np.array(value) + shift
            return float(x), float(y)

        def handles(key: PathKey) -> dict[str, Any]:
            both = {"leave": key.leave, "arrive": key.arrive}
            turned = {side: tuple(map(float, linear @ np.array(way))) for side, way in both.items() if way is not None}
            return {"value": point(key.value), **turned}

        keys = tuple(key.model_copy(update=handles(key)) for key in self.keys)
        return self.with_fields(rest=point(self.rest), keys=keys)

    def straight_between(self, low: float, high: float) -> PathTrack:
        keys = []
        for key in self.keys:
            change: dict[str, Any] = {}
            if low - SAME <= key.frame < high - SAME:
                change["leave"] = None
            if low + SAME < key.frame <= high + SAME:
                change["arrive"] = None
            keys.append(key.model_copy(update=change) if change else key)
        return self.model_copy(update={"keys": tuple(keys)})

    def unbent(self, key: dict[str, Any], side: Literal["arrive", "leave"]) -> dict[str, Any]:
        return {**key, side: None}

    def bent_at(self, frame: float, leave: Any, arrive: Any) -> Track:
        bent = {"leave": leave, "arrive": arrive}
        near = min(self.keys, key=lambda key: abs(key.frame - frame))
        keys = tuple(key.model_copy(update=bent) if key is near else key for key in self.keys)
        return self.with_fields(keys=keys)

    def _paths(self, values: Floats) -> dict[int, PathStretch]:
        found = {}
        for number, (key, after) in enumerate(zip(self.keys, self.keys[1:], strict=False)):
            if key.leave is not None or after.arrive is not None:
                handles = np.array([key.leave or (0.0, 0.0), after.arrive or (0.0, 0.0)])
                stretch = PathStretch(values[number], handles[0], handles[1], values[number + 1])
                if stretch.length > 0:
                    found[number] = stretch
        return found
