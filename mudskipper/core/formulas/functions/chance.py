"""Numbers that look random: noise, wander, random."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np

from ...geometry.bezier import Floats
from ..random_numbers import hashed, noise, wander
from ..values import numbers
from .base import Call, Function

SEED = ("seed",)


def _seed(call: Call) -> Floats:
    own = numbers(call.named["seed"](call.here)) if "seed" in call.named else np.zeros((1, 1))
    return np.asarray(own + float(call.here.seed))


def _axes(call: Call, given: Iterable[Floats]) -> int:
    """On how many axes: the numbers of a pair each by itself, and a single one on both of a point, each apart."""
    wide = max(one.shape[1] for one in given)
    return max(wide, 2) if call.free and call.here.is_point else int(wide)


def _wander(call: Call) -> Floats:
    rate, reach = given = call.numbers
    wide = _axes(call, given)
    return wander(call.here.seconds[:, None] * rate, np.broadcast_to(reach, (len(reach), wide)), _seed(call))


def _columns(call: Call, value: Callable[[list[Floats], Floats, int], Floats]) -> Floats:
    given, seed = call.numbers, _seed(call)
    columns = []
    for axis in range(_axes(call, given)):
        parts = [one[:, min(axis, one.shape[1] - 1) :][:, :1] for one in given]
        columns.append(value(parts, seed, axis))
    return np.concatenate(np.broadcast_arrays(*columns), axis=1)


def _noise(parts: list[Floats], seed: Floats, axis: int) -> Floats:
    return noise(parts[0], seed, axis)


def _random(parts: list[Floats], seed: Floats, axis: int) -> Floats:
    low, high = (np.zeros((1, 1)), parts[0]) if len(parts) == 1 else parts
    return np.asarray(low + (high - low) * hashed(np.zeros((1, 1)), seed, axis))


CHANCE = [
    Function(
        name="noise", written="noise(value, seed=0)", named=SEED, random=True, run=lambda call: _columns(call, _noise),
        sentence="Smooth random values between −1 and 1, one turn for each whole number.", example="noise(t * 3) * 20",
    ),
    Function(
        name="wander", written="wander(rate, reach, seed=0)", named=SEED, random=True, run=_wander, least=2, most=2,
        sentence="Random motion: about `rate` turns a second, at most `reach` away.", example="wander(2, 30)",
    ),
    Function(
        name="random", written="random(low, high, seed=0)", named=SEED, random=True, most=2,
        run=lambda call: _columns(call, _random),
        sentence="One random number from low to high that stays; another seed gives another one.",
        example="random(0, 360, seed=3)",
    ),
]  # fmt: skip
