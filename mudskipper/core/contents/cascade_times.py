"""When each unit of a cascade moves, and how much of its values it has then."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..easings.batch import ease_at
from ..formulas.random_numbers import hashed
from ..geometry.bezier import Floats
from .cascade import Cascade, Order

Whole = NDArray[np.intp]


class Times(NamedTuple):
    """How units follow one another, in frames: from one to the next, how many move at once (∞ where all do), and how
    long it takes until the last has arrived."""

    stagger: float
    overlap: float
    total: float


def times_of(cascade: Cascade, count: int) -> Times:
    """The times of a cascade of so many units; what one of them says, the others follow from:
    total = (count − 1) · stagger + each, overlap = each / stagger. A total that is shorter than one move lets all
    begin at once.

    >>> times_of(Cascade(each=12, spread="overlap", amount=4), 11)
    Times(stagger=3.0, overlap=4.0, total=42.0)
    """
    gaps, each = max(count - 1, 0), cascade.each
    if cascade.spread == "stagger":
        stagger = cascade.amount
    elif cascade.spread == "overlap":
        stagger = each / cascade.amount
    else:
        stagger = max(cascade.amount - each, 0.0) / gaps if gaps else 0.0
    return Times(stagger, each / stagger if stagger else np.inf, gaps * stagger + each)


def places_in(order: Order, count: Whole, seed: int, most: int, lines: Whole, far: Floats | None) -> Floats:
    """Where in the order units stand (1 | n, u), 0…1; of each frame `count` (1 | n,) of the `most` units are there.
    `lines` (1 | n, u) are the numbers of their lines, `far` (1 | n, u) their distances where the order is by these."""
    number = np.arange(most, dtype=np.float64)[None]
    last = np.maximum(count[:, None] - 1.0, 1.0)
    place = number / last
    if order == "back":
        place = 1.0 - place
    elif order in ("from the middle", "from the ends"):
        place = np.abs(2.0 * place - 1.0)
        place = place if order == "from the middle" else 1.0 - place
    elif order == "random":
        place = np.stack([_shuffled(most, int(one), seed) for one in count]) / last
    elif order == "by distance" and far is not None:
        there = np.where(number < count[:, None], far, 0.0)
        place = there / np.maximum(there.max(axis=1, keepdims=True), 1e-9)
    elif order == "each line":
        first = np.array([[np.argmax(row == line) for line in row] for row in lines], dtype=np.float64)
        place = (number - first) / np.maximum((number - first).max(axis=1, keepdims=True), 1.0)
    alone = count[:, None] < 2
    return np.clip(np.where(alone, 0.0, place), 0.0, 1.0)


def _shuffled(most: int, count: int, seed: int) -> Floats:
    found = np.zeros(most)
    drawn = hashed(np.arange(count, dtype=np.float64), np.array([float(seed)]))
    found[np.argsort(drawn, kind="stable")] = np.arange(count)
    return found


def begins(cascade: Cascade, places: Floats, steps: Floats) -> Floats:
    """When units begin (1 | n, u), in frames from the start of their layer; arguments as in `amounts`."""
    stagger = np.array([times_of(cascade, int(gaps) + 1).stagger for gaps in steps])
    return np.asarray(cascade.start + _eased(cascade.over, places, False) * (steps * stagger)[:, None])


def amounts(cascade: Cascade, places: Floats, steps: Floats, local: Floats) -> tuple[Floats, Floats]:
    """How much of its values each unit has (n, u): 0 at rest, 1 where it is as the cascade says; and how far it is on
    its way, 0…1. `places` (1 | n, u) are 0…1, `steps` (1 | n,) how many gaps lie between the first and the last, and
    `local` (n,) frames from the start of the layer."""
    since = local[:, None] - begins(cascade, places, steps)
    far = np.clip(since / cascade.each, 0.0, 1.0) if cascade.each > 0 else (since >= 0).astype(np.float64)
    if cascade.way == "through":
        rising = _eased(cascade.ease, np.minimum(2.0 * far, 1.0), cascade.past)
        falling = _eased(cascade.ease, np.minimum(2.0 - 2.0 * far, 1.0), cascade.past)
        return np.where(far < 0.5, rising, falling), far
    on = _eased(cascade.ease, far, cascade.past)
    return (1.0 - on if cascade.way == "in" else on), far


def _eased(ease: object, u: Floats, past: bool) -> Floats:
    """Progress at times (n, u); exactly 0 before and 1 behind the way."""
    found = ease_at(ease, u.reshape(-1)).reshape(u.shape)  # type: ignore[arg-type]
    found = np.where(u <= 0, 0.0, np.where(u >= 1, 1.0, found))
    return found if past else np.clip(found, 0.0, 1.0)
