"""Easing: how a value travels from one key to the next.

An easing maps the time fraction u in 0…1 of the stretch to the fraction of the way, 0 at u = 0. `linear`, the named
curves, `bezier`, `steps` and `points` are those of CSS Easing Functions Level 2 (cubic-bezier(), steps(), linear()).
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, Union

import numpy as np
from numpy.typing import NDArray

from .bezier import Floats, Numbers, coefficients, end_slopes, solve
from .easings import EASINGS, Bezier, Easing

EaseName = Literal["linear", "hold", "ease", "ease-in", "ease-out", "ease-in-out"]
if TYPE_CHECKING:
    Ease = EaseName | Easing
else:
    Ease = Union[(EaseName, *EASINGS)]

NAMED: dict[str, Numbers] = {
    "ease": (0.25, 0.1, 0.25, 1.0),
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}


def bezier_numbers(ease: Ease) -> Numbers | None:
    """The four numbers of a bezier or of a CSS name; None for the others."""
    if isinstance(ease, str):
        return NAMED.get(ease)
    return ease.bezier if isinstance(ease, Bezier) else None


def progress(eases: list[Ease], which: NDArray[np.intp], u: Floats) -> Floats:
    """Progress at u (n,) where `which` (n,) tells each element's easing in `eases`.

    All beziers are solved in one batch, which is what makes a hundred layers cheap.
    """
    out = np.array(u, dtype=np.float64)
    curved = [bezier_numbers(ease) for ease in eases]
    is_bezier = np.array([numbers is not None for numbers in curved], dtype=bool)
    if is_bezier.any():
        table = coefficients([numbers or (0, 0, 1, 1) for numbers in curved])
        chosen = (u > 0) & (u < 1)
        if not is_bezier.all():
            chosen &= is_bezier[which]
        at = np.flatnonzero(chosen)
        out[at] = solve(table, which[at], u[at])
    for index, ease in enumerate(eases):
        if not is_bezier[index] and ease != "linear":
            mine = which == index
            if mine.any():
                out[mine] = np.where(u[mine] >= 1, 1.0, 0.0) if isinstance(ease, str) else ease.progress(u[mine])
    return out


def ease_at(ease: Ease, u: Floats) -> Floats:
    """Progress of one easing at u (n,)."""
    return progress([ease], np.zeros(len(u), dtype=np.intp), u)


def end_slope(ease: Ease, end: int) -> float:
    """d progress / du at u = `end`, 0 or 1, from within, exactly: how fast a value leaves its key or arrives at one.

    >>> end_slope("linear", 0), end_slope("hold", 1), end_slope("ease-in", 0)
    (1.0, 0.0, 0.0)
    """
    if not isinstance(ease, str):
        return ease.slope(end)
    numbers = NAMED.get(ease)
    return end_slopes(numbers)[end] if numbers else float(ease == "linear")
