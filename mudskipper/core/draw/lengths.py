"""Lengths of outlines, and which part of them is drawn."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..geometry.bezier import Floats
from .bounds import cubics
from .operations import TAKES

_AT, _WEIGHTS = np.polynomial.legendre.leggauss(24)
_AT, _WEIGHTS = (_AT + 1) / 2, _WEIGHTS / 2
SOLID = -1.0
"""The first number of a row of dashes where there are none."""
FINEST = 1e-6
"""Pixels; dashes and gaps that are shorter together are a whole line."""
MOST_DASHES = 400
"""Dashes of one outline of which a part alone is drawn; where there would be more, all are made longer."""


def subpaths(verbs: str, points: Floats) -> Iterator[tuple[str, Floats]]:
    """The parts of an outline, each from its move to the next, with their points (n, 2k)."""
    first = 0
    for part in verbs.split("M")[1:]:
        count = 2 * sum(TAKES[verb] for verb in "M" + part)
        yield "M" + part, points[:, first : first + count]
        first += count


def length(verbs: str, points: Floats) -> Floats:
    """The length of a part of an outline (n, 1), by Gauss and Legendre's rule of 24 points a curve."""
    ((pieces, _),) = cubics(verbs, points)
    steps = np.diff(pieces, axis=2)[:, :, :, None]
    t = _AT[:, None]
    speed = 3 * ((1 - t) ** 2 * steps[:, :, 0] + 2 * (1 - t) * t * steps[:, :, 1] + t**2 * steps[:, :, 2])
    return np.asarray((np.hypot(speed[..., 0], speed[..., 1]) @ _WEIGHTS).sum(axis=1, keepdims=True))


def drawn_spans(whole: Floats, start: Floats, end: Floats, shift: Floats) -> tuple[Floats, Floats]:
    """Where the part from `start` to `end` percent, moved on by `shift` percent, lies on a length (n, 1).

    Two spans, their begins (n, 2) and ends (n, 2), since it goes round past the end; one that is not there ends where
    it begins.

    >>> one = np.array([[200.0]])
    >>> [spans.round(6).tolist() for spans in drawn_spans(one, one * 0, one / 4, one * 0.4)]
    [[[0.0, 160.0]], [[60.0, 201.0]]]
    """
    low, high = np.minimum(start, end), np.maximum(start, end)
    share = np.minimum(high - low, 100) / 100
    begin = (low + shift) / 100 % 1
    over = np.maximum(begin + share - 1, 0)
    ends = np.concatenate(np.broadcast_arrays(over, np.minimum(begin + share, 1)), axis=1) * whole
    begins = np.concatenate(np.broadcast_arrays(np.zeros_like(over), begin), axis=1) * whole
    # A part that reaches the end is drawn past it, so that painters who measure a hair more leave nothing out.
    return begins, np.where((ends >= whole * (1 - 1e-9)) & (ends > begins), whole + 1, ends)


def dashed(begins: Floats, ends: Floats, dash: Floats, gap: Floats, offset: Floats) -> tuple[Floats, Floats]:
    """Spans (n, k) cut into dashes (n, 1) and gaps of a pattern that begins at -offset: spans (n, j) again."""
    period = dash + gap
    plain = (period <= FINEST) | (gap <= 0)
    longest = ends.max(axis=1, keepdims=True)
    coarser = np.maximum(longest / np.where(plain, 1, period) / MOST_DASHES, 1)
    dash, period, offset = dash * coarser, np.where(plain, 1, period * coarser), offset * coarser
    count = min(int(np.ceil(np.where(plain, 1, longest / period).max())) + 1, MOST_DASHES + 1)
    first = np.arange(count) * period - offset % period
    low = np.where(plain, np.where(np.arange(count) == 0, 0, longest), first)
    high = np.where(plain, longest, first + dash)
    cut_low = np.maximum(begins[:, :, None], low[:, None])
    cut_high = np.minimum(ends[:, :, None], high[:, None])
    return cut_low.reshape(len(cut_low), -1), np.maximum(cut_low, cut_high).reshape(len(cut_low), -1)


def pattern(begins: Floats, ends: Floats, whole: Floats) -> tuple[Floats, Floats]:
    """Spans (n, k) on a length (n, 1) as dashes (n, 2k + 2) and their offset (n, 1), for strokes that are drawn once.

    The longest is drawn in two halves: rasterisers have short cuts for what is one straight piece.
    """
    longest = np.argmax(ends - begins, axis=1)[:, None]
    middle = np.take_along_axis((begins + ends) / 2, longest, axis=1)
    last = np.take_along_axis(ends, longest, axis=1)
    ends = np.where(np.arange(ends.shape[1]) == longest, middle, ends)
    begins, ends = np.concatenate([begins, middle], axis=1), np.concatenate([ends, last], axis=1)
    count = max(len(begins), len(whole))
    begins, ends, whole = (np.broadcast_to(some, (count, some.shape[1])) for some in (begins, ends, whole))
    # Spans that are not there come last, past the end, where they are never reached.
    past = whole + 3 * np.arange(1, begins.shape[1] + 1)
    there = ends > begins
    begins, ends = np.where(there, begins, past), np.where(there, ends, past + 1)
    order = np.argsort(begins, axis=1)
    begins, ends = np.take_along_axis(begins, order, axis=1), np.take_along_axis(ends, order, axis=1)
    # Spans that meet are apart by what floats lose; painters refuse a gap below 0.
    gaps = np.concatenate([np.maximum(begins[:, 1:] - ends[:, :-1], 0.0), 2 * whole + 10], axis=1)
    return np.stack([ends - begins, gaps], axis=2).reshape(count, -1), -begins[:, :1]
