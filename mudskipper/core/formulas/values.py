"""The values of formulas: arrays (n | 1, d), texts, and what stands for one of them."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..geometry.bezier import Floats
from .environment import Reference
from .problem import Faulty, FormulaProblem
from .texts import Texts


def numbers(value: Any) -> Floats:
    """A value as an array; Faulty where it is a text or a thing with parts."""
    if isinstance(value, Reference):
        value = value.now()
    if isinstance(value, np.ndarray):
        return value
    raise Faulty(FormulaProblem(sentence="A text is no number, and one is expected here."))


def plain(value: Any) -> Any:
    """A property as its value at this moment."""
    return value.now() if isinstance(value, Reference) else value


def texts(value: Any) -> Texts | None:
    """A value as texts; None where it is none."""
    return Texts((value,)) if isinstance(value, str) else value if isinstance(value, Texts) else None


def alike(*given: Any) -> list[Floats]:
    """Values that go together: each a number, or all others of one kind."""
    found = [numbers(one) for one in given]
    widths = {one.shape[1] for one in found} - {1}
    if len(widths) > 1:
        raise Faulty(FormulaProblem(sentence="A pair and a colour do not go together."))
    return found


def part_of(value: Floats, index: int, name: str) -> Floats:
    """A part of a pair or a colour."""
    if value.shape[1] == 1:
        raise Faulty(FormulaProblem(sentence=f"This is one number and has no part {name}."))
    if not 0 <= index < value.shape[1]:
        raise Faulty(FormulaProblem(sentence=f"A pair has the parts x and y, and no {name}."))
    return value[:, index : index + 1]


def with_gaps(value: Any, *decided_by: Floats) -> Floats:
    """A value (n | 1, d) without one wherever what decided it has none: nothing is told from what is not there."""
    gaps = [np.isnan(one).any(axis=1, keepdims=True) for one in decided_by]
    if not any(one.any() for one in gaps):
        return np.asarray(value)
    return np.where(np.logical_or.reduce(np.broadcast_arrays(*gaps)), np.nan, value)
