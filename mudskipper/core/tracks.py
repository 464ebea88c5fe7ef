"""Tracks: a value at rest and its keys, evaluated for all frames at once."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal, NamedTuple

import numpy as np
from pydantic import AfterValidator, Field, model_validator

from .easing import Ease, Floats, progress
from .model import Model, Number, Pair

MOST_KEYS = 10_000
COLOUR = re.compile(r"^#[0-9a-f]{8}$")


def _colour(text: str) -> str:
    lowered = text.lower()
    if re.fullmatch(r"#[0-9a-f]{6}", lowered):
        lowered += "ff"
    if not COLOUR.fullmatch(lowered):
        raise ValueError("a colour must be written #rrggbb or #rrggbbaa")
    return lowered


Colour = Annotated[str, Field(strict=True), AfterValidator(_colour)]
KeyFrame = Annotated[float, Field(strict=True, ge=-1e6, le=1e6)]


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


class ColourKey(Model):
    """A key of a colour."""

    frame: KeyFrame
    value: Colour
    ease: Ease = "linear"


class Curve(NamedTuple):
    """A track's keys as arrays: times (k,), values (k, d), eases (k)."""

    times: Floats
    values: Floats
    eases: list[Ease]


class Track(Model):
    """What the three kinds of track share. Key frames count from the start of the layer's span."""

    dims: ClassVar[int] = 1
    rest: Any
    keys: tuple[Any, ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _bare_value_is_rest(cls, data: Any) -> Any:
        return data if isinstance(data, dict | Track) else {"rest": data}

    @model_validator(mode="after")
    def _keys_in_order(self) -> Track:
        if len(self.keys) > MOST_KEYS:
            raise ValueError(f"a track holds at most {MOST_KEYS} keys")
        frames = [key.frame for key in self.keys]
        for i in range(1, len(frames)):
            if frames[i] <= frames[i - 1]:
                fault = "stands twice" if frames[i] == frames[i - 1] else f"comes after frame {frames[i - 1]:g}"
                raise ValueError(f"keys must stand in order of time, one at a frame: frame {frames[i]:g} {fault}")
        return self

    @cached_property
    def curve(self) -> Curve:
        """The keys as arrays, made once for each immutable track."""
        times = np.array([key.frame for key in self.keys], dtype=np.float64)
        values = np.array([self.to_array(key.value) for key in self.keys], dtype=np.float64)
        return Curve(times, values.reshape(len(self.keys), self.dims), [key.ease for key in self.keys])

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


class NumberTrack(Track):
    """A single number over time."""

    rest: Number
    keys: tuple[NumberKey, ...] = ()


class PairTrack(Track):
    """A pair (x, y) over time."""

    dims: ClassVar[int] = 2
    rest: Pair
    keys: tuple[PairKey, ...] = ()

    def to_array(self, value: Any) -> list[float]:
        return list(value)

    def from_array(self, numbers: Iterable[float]) -> Any:
        x, y = numbers
        return (float(x), float(y))


class ColourTrack(Track):
    """A colour over time, mixed in linear light unless `mix` says sRGB; alpha is always linear."""

    dims: ClassVar[int] = 4
    rest: Colour
    keys: tuple[ColourKey, ...] = ()
    mix: Literal["linear-light", "srgb"] = "linear-light"

    def to_array(self, value: Any) -> list[float]:
        parts = [int(value[i : i + 2], 16) / 255 for i in (1, 3, 5, 7)]
        if self.mix == "linear-light":
            parts[:3] = [_to_linear(part) for part in parts[:3]]
        return parts

    def from_array(self, numbers: Iterable[float]) -> Any:
        (row,) = self.finish(np.array([list(numbers)]))
        return "#" + "".join(f"{int(part):02x}" for part in row)

    def finish(self, values: Floats) -> Floats:
        out = np.clip(values, 0, 1)
        if self.mix == "linear-light":
            rgb = out[:, :3]
            out[:, :3] = np.where(rgb <= 0.0031308, rgb * 12.92, 1.055 * np.power(rgb, 1 / 2.4) - 0.055)
        return np.rint(out * 255)


def _to_linear(part: float) -> float:
    """IEC 61966-2-1 (sRGB) decoding."""
    return part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4


def evaluate(tracks: list[Track], frames: list[Floats]) -> list[Floats]:
    """Values of many tracks, each at its own frames (n,) counted from its layer's start.

    Returns an array for each track: (1, d) where the value never changes, else (n, d). Every key stretch of every
    track is eased in one batch.
    """
    out: list[Floats] = []
    spots: list[tuple[int, Curve, np.ndarray[Any, Any], Floats]] = []
    eases: list[Ease] = []
    which: list[np.ndarray[Any, Any]] = []
    parts: list[Floats] = []
    for index, (track, at) in enumerate(zip(tracks, frames, strict=True)):
        curve = track.curve
        count = len(curve.times)
        if count < 2:
            out.append(track.finish((curve.values[:1] if count else track.rest_array[None, :]).copy()))
            continue
        segment = np.clip(np.searchsorted(curve.times, at, side="right") - 1, 0, count - 2)
        start = curve.times[segment]
        u = np.clip((at - start) / (curve.times[segment + 1] - start), 0.0, 1.0)
        which.append(segment + len(eases))
        eases.extend(curve.eases[:-1])
        parts.append(u)
        spots.append((index, curve, segment, at))
        out.append(u)
    if spots:
        edges = np.cumsum([len(part) for part in parts])[:-1]
        u_all = np.concatenate(parts)
        done = np.split(progress(eases, np.concatenate(which), u_all), edges)
        for (index, curve, segment, at), part in zip(spots, done, strict=True):
            first, last = curve.values[segment], curve.values[segment + 1]
            p = part[:, None]
            values = first + (last - first) * p
            values = np.where(p == 1.0, last, values)
            values[at < curve.times[0]] = curve.values[0]
            values[at >= curve.times[-1]] = curve.values[-1]
            out[index] = tracks[index].finish(values)
    return out


def value_at(track: Track, frame: float) -> Any:
    """The document value of a track at one frame counted from its layer's start."""
    if not track.keys:
        return track.rest
    for key in track.keys:
        if key.frame == frame:
            return key.value
    (values,) = evaluate([track], [np.array([float(frame)])])
    if isinstance(track, ColourTrack):
        return "#" + "".join(f"{int(part):02x}" for part in values[0])
    return track.from_array(values[0])
