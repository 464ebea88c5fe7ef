"""What all kinds of track share: a value at rest, its keys, and how it goes on beyond them."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from pydantic import Field, model_validator

from ..easings.batch import Eases, ready
from ..geometry.bezier import Floats
from ..geometry.curved_path import PathStretch
from ..ground.base_model import Model
from ..ground.errors import Refused
from .cadence import Cadence

MOST_KEYS = 10_000
SAME = 1e-6
"""Two frames nearer than this are one: after a change of rate keys stand between frames, where sums are not exact."""
KeyFrame = Annotated[float, Field(strict=True, ge=-1e6, le=1e6)]


class Curve(NamedTuple):
    """A track's keys as arrays: times (k,) and values (k, d); and of each stretch between keys its easing, its length
    in frames, its step in value, and its path where that is curved."""

    times: Floats
    values: Floats
    eases: Eases
    lengths: Floats
    steps: Floats
    paths: dict[int, PathStretch]


Way = Literal["set", "add", "multiply"]
"""How a value is changed."""
Beyond = Literal["hold", "repeat", "bounce", "carry on"]


class Track(Model):
    """What all kinds of track share. Key frames count from the start of the layer's span."""

    rest: Any
    keys: tuple[Any, ...] = ()
    before: Beyond = "hold"
    after: Beyond = "hold"
    cadence: Cadence | None = None
    formula: Annotated[str, Field(strict=True, min_length=1, max_length=2_000)] | None = None
    """A formula whose value is the track's; what it has without is `base` there."""
    formula_from: KeyFrame = 0
    """The frame at which the formula's time is 0, from the start of the layer: another one once that was trimmed."""
    formula_seed: Annotated[int, Field(strict=True, ge=0, lt=2**32)] | None = None
    """What the formula's random motion starts from, where that is not the layer's own: a part that was cut off moves
    as the whole did."""

    @model_validator(mode="before")
    @classmethod
    def _bare_value_is_rest(cls, data: Any) -> Any:
        return data if isinstance(data, dict | Track) else {"rest": data}

    @model_validator(mode="after")
    def _keys_in_order(self) -> Track:
        if len(self.keys) > MOST_KEYS:
            raise ValueError(f"holds at most {MOST_KEYS:,} keys, and these would be {len(self.keys):,}")
        if len(self.keys) < 2:
            return self
        frames = [key.frame for key in self.keys]
        for i in range(1, len(frames)):
            if frames[i] <= frames[i - 1]:
                fault = "stands twice" if frames[i] == frames[i - 1] else f"comes after frame {frames[i - 1]:g}"
                raise ValueError(f"keys must stand in order of time, one at a frame: frame {frames[i]:g} {fault}")
        return self

    @property
    def dims(self) -> int:
        """How many numbers a value is."""
        return 1

    @property
    def solvable(self) -> bool:
        """Whether its value is numbers that a formula can be solved for."""
        return True

    def with_fields(self, **changes: Any) -> Track:
        """The track with fields changed, and checked again; ValidationError where it could not be read so."""
        fields = {field: getattr(self, field) for field in type(self).model_fields}
        return type(self).model_validate(fields | changes)

    @property
    def moves(self) -> bool:
        """Whether its value may be another at another frame: by keys, or by a formula, whatever that reads. Nothing
        asks a track for its keys to learn this."""
        return bool(self.keys) or self.formula is not None

    @cached_property
    def stays_between(self) -> bool:
        """Whether its value is known never to pass beyond those of its keys."""
        eases = (key.ease for key in self.keys[:-1])
        between = all(isinstance(ease, str) or ease.stays_between for ease in eases)
        return between and "carry on" not in (self.before, self.after)

    @cached_property
    def curve(self) -> Curve:
        """The keys as arrays, made once for each immutable track."""
        times = np.array([key.frame for key in self.keys], dtype=np.float64)
        values = np.array([self.to_array(key.value) for key in self.keys], dtype=np.float64)
        values = values.reshape(len(self.keys), self.dims)
        eases = ready([key.ease for key in self.keys[:-1]])
        return Curve(times, values, eases, np.diff(times), np.diff(values, axis=0), self._paths(values))

    def _paths(self, values: Floats) -> dict[int, PathStretch]:
        """The curved stretches by number."""
        return {}

    @cached_property
    def rest_array(self) -> Floats:
        """The rest value as an array (d,)."""
        return np.array(self.to_array(self.rest), dtype=np.float64)

    def to_array(self, value: Any) -> list[float]:
        """A document value as d numbers to be interpolated."""
        return [value]

    def from_array(self, numbers: Iterable[float]) -> Any:
        """d interpolated numbers as a document value."""
        (number,) = numbers
        return float(number)

    def finish(self, values: Floats) -> Floats:
        """Interpolated numbers (n, d) in the units in which the value is used."""
        return values

    def merged(self, given: Any, now: Any, label: str) -> Any:
        """A value as the track takes it, where it is `now`; a part of a pair given as null keeps what it is. Refused in
        words that begin with its label."""
        if isinstance(given, list | tuple):
            raise Refused(f"{label} takes one value, and the list {list(given)!r} was given.", where="value")
        if isinstance(given, str):
            raise Refused(f"{label} takes a number, and {given!r} was given.", where="value")
        return given

    def in_ratio(self, given: Any, now: Any) -> Any:
        """A pair of which one part is null with that part in the ratio that it has to the other now."""
        return given

    def changed(self, now: Any, way: Way, by: float | str, part: int | None, label: str) -> Any:
        """What is `now` set to a value, or with a number added to it or multiplied; one part of it, or all. Refused in
        words that begin with its label."""
        if isinstance(by, str):
            raise Refused(f"{label} takes a number, and {by!r} was given.", where="value")
        return {"set": by, "add": now + by, "multiply": now * by}[way]

    def straight_between(self, low: float, high: float) -> Track:
        """Without a curve between two of its keys; the handles beyond them stay."""
        return self

    def unbent(self, key: dict[str, Any], side: Literal["arrive", "leave"]) -> dict[str, Any]:
        """A key's fields without its handle on a side."""
        return key

    def bent_at(self, frame: float, leave: Any, arrive: Any) -> Track:
        """With handles at the key that stands at a frame, where it has any."""
        return self

    def document_value(self, numbers: Iterable[float]) -> Any:
        """d numbers in the units in which the value is used, as a document value."""
        return self.from_array(numbers)


def tidy_frame(frame: float) -> float:
    """A frame that a sum gave: the whole one it means (20, not 19.999999999999996), or itself.

    >>> tidy_frame(19.999999999999996), tidy_frame(19.5)
    (20.0, 19.5)
    """
    return float(round(frame)) if abs(frame - round(frame)) < SAME else float(frame)
