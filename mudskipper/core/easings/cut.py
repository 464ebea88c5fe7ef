"""Easings cut in two at a moment, and run backwards: what keeps a motion as it is when its keys change."""

from __future__ import annotations

import itertools

import numpy as np

from ..geometry.bezier import split
from . import Bezier, Points
from .base import Breaks
from .batch import Ease, bezier_numbers, ease_at

NEAR = 1e-4
"""Parts of the way smaller than this are none: they are within a tenth of what a cut promises."""
MOST = 9e5
AFTER = 1e-9
"""A moment just after another, for jumps that belong to the earlier side."""


def split_ease(ease: Ease, u: float) -> tuple[Ease | None, Ease | None, float]:
    """Cut an easing at time u in (0, 1): the easings before and after, and the progress there.

    The motion is unchanged: exactly for linear, hold, points, steps, and beziers whose parts CSS allows as beziers;
    the other beziers, overshoot, bounce and spring become 256 points a part or more, within 0.1 % of the way (springs
    with a response under 0.04: within 0.5 %). A part is None where no easing can say it: it comes back to the progress
    at which it began, and an easing goes from one value to another.

    >>> split_ease("linear", 0.25)
    ('linear', 'linear', 0.25)
    """
    if ease in ("linear", "hold"):
        return ease, ease, 0.0 if ease == "hold" else u
    numbers = bezier_numbers(ease)
    if numbers is not None:
        parts = split(numbers, u)
        if parts is not None and abs(parts[2]) > NEAR and abs(1 - parts[2]) > NEAR:
            return Bezier(bezier=parts[0]), Bezier(bezier=parts[1]), parts[2]
    here = float(ease_at(ease, np.array([u]))[0])
    return _part(ease, 0.0, u, 0.0, here), _part(ease, u, 1.0, here, 1.0), here


def turned_ease(ease: Ease) -> Ease:
    """An easing run backwards: 1 − e(1 − u). Exact for all but overshoot, bounce and spring, which become points."""
    if ease == "linear":
        return ease
    numbers = bezier_numbers(ease)
    if numbers is not None:
        x1, y1, x2, y2 = numbers
        return Bezier(bezier=(1 - x2, 1 - y2, 1 - x1, 1 - y1))
    breaks = _hold() if ease == "hold" else _breaks(ease, 0.0, 1.0)
    return _points(_late([(1 - u, 1 - v) for u, v in reversed(breaks)]))


def _late(breaks: Breaks) -> Breaks:
    """Breaks with each jump a moment later: at its own time the value is still that before it."""
    late = []
    for i, (u, v) in enumerate(breaks):
        twin = any(0 <= j < len(breaks) and breaks[j][0] == u for j in (i - 1, i + 1))
        late.append((min(u + AFTER, 1.0) if twin and u < 1 else u, v))
    return [breaks[0], *late] if late[0][0] > 0 else late


def _hold() -> Breaks:
    return [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0)]


def furthest(ease: Ease, start: float, end: float) -> float:
    """The time between two at which an easing is furthest from the progress of both keys: the best place for a cut."""
    u = np.linspace(start, end, 1_026)[1:-1]
    v = ease_at(ease, u)
    return float(u[np.argmax(np.minimum(np.abs(v), np.abs(1 - v)))])


def jumps_of(ease: Ease) -> list[float]:
    """The times in (0, 1] at which an easing jumps, that at its end included where it does not end at 1."""
    if isinstance(ease, str) or not ease.jumps:
        return []
    breaks = [*_breaks(ease, 0.0, 1.0), (1.0, 1.0)]
    return [u for (u, v), (after, w) in itertools.pairwise(breaks) if u == after > 0 and abs(v - w) > NEAR]


def stays_within(ease: Ease, u: float, here: float) -> bool:
    """Whether an easing goes from 0 to `here` until time u, and on to 1 after it, without leaving either range."""
    before, after = ease_at(ease, np.linspace(0, u, 513)), ease_at(ease, np.linspace(u, 1, 513))
    low, high = -1e-9, 1 + 1e-9
    return bool(
        0 < here < 1
        and before.min() >= low and before.max() <= here + 1e-9
        and after.min() >= here - 1e-9 and after.max() <= high
    )  # fmt: skip


def _part(ease: Ease, start: float, end: float, first: float, last: float) -> Ease | None:
    """The stretch of an easing between two times, from progress `first` to `last`, over its own unit square."""
    breaks = _breaks(ease, start, end)
    values = np.array([v for _, v in breaks])
    if abs(last - first) < NEAR:
        return "linear" if np.abs(values - first).max() < NEAR else None
    scaled = [((u - start) / (end - start), (v - first) / (last - first)) for u, v in breaks]
    return _points(scaled) if max(abs(v) for _, v in scaled) < MOST else None


def _points(breaks: Breaks) -> Points:
    times = [min(max(u, 0.0), 1.0) for u, _ in breaks]
    times[0], times[-1] = 0.0, 1.0
    return Points(points=tuple((float(u), float(v)) for u, (_, v) in zip(times, breaks, strict=True)))


def _breaks(ease: Ease, start: float, end: float) -> Breaks:
    """Times and progress that follow an easing between two times by straight lines and jumps."""
    if not isinstance(ease, str):
        return ease.breaks(start, end)
    numbers = bezier_numbers(ease)
    return Bezier(bezier=numbers).breaks(start, end) if numbers else [(start, start), (end, end)]
