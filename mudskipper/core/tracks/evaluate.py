"""Tracks evaluated for all frames at once."""

from __future__ import annotations

from itertools import accumulate, groupby, pairwise
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..easings.batch import ease_at, end_slope, progress, together
from ..geometry.bezier import Floats
from .base import SAME, Curve, Track


def evaluate(tracks: list[Track], frames: list[Floats], rate: float) -> list[Floats]:
    """Values of many tracks, each at its own frames (n,) counted from its layer's start; `rate` is frames a second.

    Returns an array for each track: (1, d) where the value never changes, else (n, d). Every key stretch of every
    track is eased in one batch.

    >>> from .kinds import NumberTrack
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


def key_at(track: Track, frame: float) -> Any:
    """The key that stands at a frame counted from the layer's start, within `SAME`; None where there is none."""
    times = track.curve.times
    place = int(np.searchsorted(times, frame - SAME))
    return track.keys[place] if place < len(times) and times[place] <= frame + SAME else None


def value_at(track: Track, frame: float, rate: float) -> Any:
    """The document value that a track's keys give at one frame counted from its layer's start: a key's own where one
    stands there. A cadence, which holds what is shown, does not count.

    >>> from .kinds import NumberTrack
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
    return track.document_value(values[0])
