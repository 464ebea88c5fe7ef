"""Tracks: a value at rest and its keys, evaluated for all frames at once."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cached_property
from itertools import accumulate, groupby, pairwise
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, Field, model_validator

from .base_model import Model, Number, Pair
from .bezier import Floats
from .curved_path import PathStretch
from .easing import Ease, Eases, ease_at, end_slope, progress, ready, together

MOST_KEYS = 10_000
SAME = 1e-6
"""Two frames nearer than this are one: after a change of rate keys stand between frames, where sums are not exact."""
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
    """A track's keys as arrays: times (k,) and values (k, d); and of each stretch between keys its easing, its length
    in frames, its step in value, and its path where that is curved."""

    times: Floats
    values: Floats
    eases: Eases
    lengths: Floats
    steps: Floats
    paths: dict[int, PathStretch]


class Cadence(Model):
    """A property's own lower rate: a new value every `on` frames, or `per_second` times a second, one of them at the
    frame `phase`."""

    on: Annotated[int, Field(strict=True, ge=1, le=1_000)] | None = None
    per_second: Annotated[float, Field(strict=True, gt=0, le=240)] | None = None
    phase: Annotated[float, Field(strict=True, ge=-1e6, le=1e6)] = 0.0

    @model_validator(mode="after")
    def _one(self) -> Cadence:
        if (self.on is None) == (self.per_second is None):
            raise ValueError("a cadence is either on a number of frames or a number of times a second")
        return self

    def hold(self, frames: Floats, rate: float) -> Floats:
        """Each frame's time held back to the last one on which the value is renewed."""
        step = self.step(rate)
        return np.asarray(self.phase + np.floor((frames - self.phase) / step + 1e-9) * step)

    def step(self, rate: float) -> float:
        """The frames from one renewal to the next."""
        return float(self.on) if self.on is not None else rate / (self.per_second or rate)

    def renewals(self, start: float, end: float, rate: float) -> Floats:
        """The frames at which the value is renewed between two."""
        step = self.step(rate)
        first, last = np.ceil((start - self.phase) / step - 1e-9), np.floor((end - self.phase) / step + 1e-9)
        return np.asarray(self.phase + np.arange(first, last + 1) * step)

    def shifted(self, by: float) -> Cadence:
        """The same renewals where frames count from `by` frames earlier."""
        phase = self.phase + by
        return self.model_copy(update={"phase": phase % self.on if self.on is not None else phase})


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
            raise ValueError(f"a track holds at most {MOST_KEYS} keys")
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


class ColourTrack(Track):
    """A colour over time, mixed in linear light unless `mix` says sRGB; alpha is always linear."""

    rest: Colour
    keys: tuple[ColourKey, ...] = ()
    mix: Literal["linear-light", "srgb"] = "linear-light"

    @property
    def dims(self) -> int:
        return 4

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


def evaluate(tracks: list[Track], frames: list[Floats], rate: float) -> list[Floats]:
    """Values of many tracks, each at its own frames (n,) counted from its layer's start; `rate` is frames a second.

    Returns an array for each track: (1, d) where the value never changes, else (n, d). Every key stretch of every
    track is eased in one batch.

    >>> track = NumberTrack(rest=0, keys=[{"frame": 0, "value": 0}, {"frame": 10, "value": 100}])
    >>> evaluate([track], [np.array([-1.0, 5, 20])], 30)[0].tolist()
    [[0.0], [50.0], [100.0]]
    """
    out: list[Floats] = []
    moving: list[_Moving] = []
    for place, (track, given) in enumerate(zip(tracks, frames, strict=True)):
        curve = track.curve
        if len(curve.times) < 2:
            out.append(track.finish((curve.values if len(curve.times) else track.rest_array[None, :]).copy()))
            continue
        at = given if track.cadence is None else track.cadence.hold(given, rate)
        folded = at if track.before == track.after == "hold" else _folded(track, curve, at)
        moving.append(_Moving(place, curve, curve.times[1:-1].searchsorted(folded, side="right"), at, folded))
        out.append(folded)
    # Values of as many numbers are next to one another, to be computed together.
    moving.sort(key=lambda one: one.curve.values.shape[1])
    for one, values, share in zip(moving, *_between_keys(moving), strict=True):
        curve, track = one.curve, tracks[one.place]
        for number, stretch in curve.paths.items():
            here = (one.segment == number) & (one.folded >= curve.times[0]) & (one.folded < curve.times[-1])
            if here.any():
                values[here] = stretch.at(share[here])
        if "carry on" in (track.before, track.after):
            _carry_on(track, curve, one.at, values)
        out[one.place] = track.finish(values)
    return out


class _Moving(NamedTuple):
    """A track that moves, at its frames (n,): its place among all, in which stretch each frame is, the frames by its
    cadence, and these brought into its keys."""

    place: int
    curve: Curve
    segment: NDArray[np.intp]
    at: Floats
    folded: Floats


def _between_keys(moving: list[_Moving]) -> tuple[list[Floats], list[Floats]]:
    """Of each track its values (n, d) on the straight way from key to key, those of its ends beyond them, and the share
    (n,) of each stretch that is travelled; tracks of as many numbers next to one another are computed in one batch."""
    if not moving:
        return [], []
    curves = [one.curve for one in moving]
    counts = [len(one.segment) for one in moving]
    rows = np.cumsum([0, *(len(curve.lengths) for curve in curves)])
    which = np.concatenate([one.segment for one in moving])
    which += np.repeat(rows[:-1], counts)
    u = np.concatenate([one.folded for one in moving])
    u -= np.concatenate([curve.times[:-1] for curve in curves]).take(which, mode="clip")
    u /= np.concatenate([curve.lengths for curve in curves]).take(which, mode="clip")
    # An easing may have left its first key at u = 0, and sums are not exact at the last one.
    before, after = np.flatnonzero(u < 0), np.flatnonzero(u >= 1)
    u.clip(0.0, 1.0, out=u)
    share = progress(together([curve.eases for curve in curves]), which, u)
    ends = [0, *accumulate(counts)]
    values: list[Floats] = []
    for _, group in groupby(curves, key=lambda curve: curve.values.shape[1]):
        alike = list(group)
        first, last = len(values), len(values) + len(alike)
        steps = np.concatenate([one.steps for one in alike])
        starts = np.concatenate([one.values[:-1] for one in alike])
        stops = np.concatenate([one.values[1:] for one in alike])
        part = slice(ends[first], ends[last])
        mine = which[part] - rows[first]
        batch = _mixed(steps, starts, mine, share[part])
        for beyond, table in ((before, starts), (after, stops)):
            at = beyond[slice(*beyond.searchsorted([part.start, part.stop]))] - part.start
            batch[at] = table[mine[at]]
        values.extend(batch[a - part.start : b - part.start] for a, b in pairwise(ends[first : last + 1]))
    return values, [share[a:b] for a, b in pairwise(ends)]


def _mixed(steps: Floats, starts: Floats, which: NDArray[np.intp], share: Floats) -> Floats:
    """starts + share · steps (n, d) by the rows `which` (n,) of both."""
    if steps.shape[1] > 4:
        values = steps.take(which, axis=0)
        values *= share[:, None]
        values += starts.take(which, axis=0)
        return values
    # Numbers by columns: a row of two is too short for numpy's loops.
    values = np.empty((len(which), steps.shape[1]))
    for i in range(steps.shape[1]):
        column = steps[:, i].take(which, mode="clip")
        column *= share
        column += starts[:, i].take(which, mode="clip")
        values[:, i] = column
    return values


def _folded(track: Track, curve: Curve, at: Floats) -> Floats:
    """Times before and after the keys brought into them where the motion repeats or bounces.

    Where one round meets the next, what is shown before the keys is the first key, and after them the last.
    """
    first, last = curve.times[0], curve.times[-1]
    wide = last - first
    out = at
    for way, outside, seam in ((track.before, at < first - SAME, 0.0), (track.after, at > last + SAME, wide)):
        if way == "repeat":
            over = np.mod(at - first, wide)
            over = np.where((over < SAME) | (wide - over < SAME), seam, over)
            out = np.where(outside, first + over, out)
        elif way == "bounce":
            out = np.where(outside, first + wide - np.abs(np.mod(at - first, 2 * wide) - wide), out)
    return out


def _carry_on(track: Track, curve: Curve, at: Floats, values: Floats) -> None:
    """Go on at the speed of the first or last moment between the keys."""
    for way, end in ((track.before, 0), (track.after, 1)):
        if way != "carry on":
            continue
        edge, stretch = (0, 0) if end == 0 else (-1, len(curve.lengths) - 1)
        time = curve.times[edge]
        beyond = at < time if end == 0 else at > time
        path = curve.paths.get(stretch)
        share = float(ease_at(curve.eases.each[stretch], np.array([float(end)]))[0])
        step = curve.steps[stretch] if path is None else path.slope(share)
        speed = step * end_slope(curve.eases.each[stretch], end) / curve.lengths[stretch]
        values[beyond] = curve.values[edge] + (at[beyond] - time)[:, None] * speed


def tidy_frame(frame: float) -> float:
    """A frame that a sum gave: the whole one it means (20, not 19.999999999999996), or itself.

    >>> tidy_frame(19.999999999999996), tidy_frame(19.5)
    (20.0, 19.5)
    """
    return float(round(frame)) if abs(frame - round(frame)) < SAME else float(frame)


def key_at(track: Track, frame: float) -> Any:
    """The key that stands at a frame counted from the layer's start, within `SAME`; None where there is none."""
    times = track.curve.times
    place = int(np.searchsorted(times, frame - SAME))
    return track.keys[place] if place < len(times) and times[place] <= frame + SAME else None


def value_at(track: Track, frame: float, rate: float) -> Any:
    """The document value that a track's keys give at one frame counted from its layer's start: a key's own where one
    stands there. A cadence, which holds what is shown, does not count.

    >>> track = NumberTrack(rest=0, keys=[{"frame": 0, "value": 0}, {"frame": 10, "value": 100}])
    >>> value_at(track, 2.5, 30), value_at(track, 40, 30)
    (25.0, 100.0)
    """
    if not track.keys:
        return track.rest
    key = key_at(track, frame)
    if key is not None:
        return key.value
    return shown_at(track if track.cadence is None else track.model_copy(update={"cadence": None}), frame, rate)


def shown_at(track: Track, frame: float, rate: float) -> Any:
    """The document value that is shown at one frame counted from the layer's start, held as the cadence has it."""
    (values,) = evaluate([track], [np.array([float(frame)])], rate)
    if isinstance(track, ColourTrack):
        return "#" + "".join(f"{int(part):02x}" for part in values[0])
    return track.from_array(values[0])
