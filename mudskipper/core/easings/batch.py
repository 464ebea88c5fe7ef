"""Easing: how a value travels from one key to the next.

An easing maps the time fraction u in 0…1 of the stretch to the fraction of the way, 0 at u = 0. `linear`, the named
curves, `bezier`, `steps` and `points` are those of CSS Easing Functions Level 2 (cubic-bezier(), steps(), linear()).
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from ..geometry.bezier import Floats, Numbers, coefficients, end_slopes, solve
from ..ground.kinds import AnyOf, Late
from . import EASINGS, Bezier, Easing

EaseName = Literal["linear", "hold", "ease", "ease-in", "ease-out", "ease-in-out"]
if TYPE_CHECKING:
    Ease = EaseName | Easing
else:
    Ease = Annotated[Any, Late(AnyOf(EaseName, EASINGS), get_args(EaseName))]

NAMED: dict[str, Numbers] = {
    "ease": (0.25, 0.1, 0.25, 1.0),
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}
LINE: Numbers = (0.0, 0.0, 1.0, 1.0)


def bezier_numbers(ease: Ease) -> Numbers | None:
    """The four numbers of a bezier or of a CSS name; None for the others."""
    if isinstance(ease, str):
        return NAMED.get(ease)
    return ease.bezier if isinstance(ease, Bezier) else None


LINEAR, BEZIER, OTHER = range(3)


class Eases(NamedTuple):
    """Easings made ready to be evaluated together: whether each (k,) is linear, a bezier or another one, and the
    coefficients (k, 6) of beziers."""

    each: list[Ease]
    kinds: NDArray[np.int8]
    coefficients: Floats


def ready(eases: list[Ease]) -> Eases:
    """Easings made ready, once for many evaluations."""
    curved = [bezier_numbers(ease) for ease in eases]
    kinds = [
        LINEAR if ease == "linear" else OTHER if numbers is None else BEZIER
        for ease, numbers in zip(eases, curved, strict=True)
    ]
    rows = [coefficients(numbers or LINE) for numbers in curved]
    return Eases(eases, np.array(kinds, dtype=np.int8), np.array(rows, dtype=np.float64).reshape(-1, 6))


def together(several: list[Eases]) -> Eases:
    """The easings of several as one."""
    each = [ease for one in several for ease in one.each]
    kinds = np.concatenate([one.kinds for one in several])
    return Eases(each, kinds, np.concatenate([one.coefficients for one in several]))


def progress(eases: Eases, which: NDArray[np.intp], u: Floats) -> Floats:
    """Progress at u (n,) where `which` (n,) tells each element's easing.

    All beziers are solved in one batch, which is what makes a hundred layers cheap.
    """
    if (eases.kinds == BEZIER).all():
        return solve(eases.coefficients, which, u)
    out = np.array(u, dtype=np.float64)
    kinds = eases.kinds.take(which)
    at = np.flatnonzero(kinds == BEZIER)
    if at.size:
        out[at] = solve(eases.coefficients, which[at], u[at])
    at = np.flatnonzero(kinds == OTHER)
    if at.size:
        at = at[np.argsort(which[at], kind="stable")]
        for run in np.split(at, np.flatnonzero(np.diff(which[at])) + 1):
            ease = eases.each[which[run[0]]]
            mine = u[run]
            out[run] = np.where(mine >= 1, 1.0, 0.0) if isinstance(ease, str) else ease.progress(mine)
    return out


def ease_at(ease: Ease, u: Floats) -> Floats:
    """Progress of one easing at u (n,)."""
    return progress(ready([ease]), np.zeros(len(u), dtype=np.intp), u)


def end_slope(ease: Ease, end: int) -> float:
    """d progress / du at u = `end`, 0 or 1, from within, exactly: how fast a value leaves its key or arrives at one.

    >>> end_slope("linear", 0), end_slope("hold", 1), end_slope("ease-in", 0)
    (1.0, 0.0, 0.0)
    """
    if not isinstance(ease, str):
        return ease.slope(end)
    numbers = NAMED.get(ease)
    return end_slopes(numbers)[end] if numbers else float(ease == "linear")
