"""Easing: how a value travels from one key to the next.

An easing maps the time fraction u in 0…1 of the stretch to the fraction of the way, 0 at u = 0. `linear`, the named
curves, `cubic-bezier`, `steps` and `linear()` are those of CSS Easing Functions Level 2.
"""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from .model import Model, Number, Whole

Floats = NDArray[np.float64]
Unit = Annotated[float, Field(strict=True, ge=0, le=1)]


class Bezier(Model):
    """CSS `cubic-bezier(x1, y1, x2, y2)`; x within 0…1, y free, so that a value may overshoot."""

    bezier: tuple[Unit, Number, Unit, Number]


class Steps(Model):
    """CSS `steps(n, jump)`."""

    steps: Annotated[Whole, Field(ge=1, le=10_000)]
    jump: Literal["start", "end", "none", "both"] = "end"

    @model_validator(mode="after")
    def _two_levels(self) -> Steps:
        if self.jump == "none" and self.steps < 2:
            raise ValueError("steps with jump none needs at least 2 steps")
        return self


EaseName = Literal["linear", "hold", "ease", "ease-in", "ease-out", "ease-in-out"]
Ease = EaseName | Bezier | Steps

NAMED: dict[str, tuple[float, float, float, float]] = {
    "ease": (0.25, 0.1, 0.25, 1.0),
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}


def bezier_numbers(ease: Ease) -> tuple[float, float, float, float] | None:
    """The four numbers of a bezier or of a CSS name; None for the others."""
    if isinstance(ease, Bezier):
        return ease.bezier
    return NAMED.get(ease) if isinstance(ease, str) else None


def progress(eases: list[Ease], which: NDArray[np.intp], u: Floats) -> Floats:
    """Progress at u (any shape) where `which`, of the same shape, tells each element's easing in `eases`.

    All beziers are solved in one batch, which is what makes a hundred layers cheap.
    """
    out = np.array(u, dtype=np.float64)
    kinds = np.array([_kind(ease) for ease in eases], dtype=np.int8)
    kind = kinds[which]
    if (kinds == _HOLD).any():
        out[kind == _HOLD] = 0.0
    if (kinds == _BEZIER).any():
        table = np.array([bezier_numbers(ease) or (0, 0, 1, 1) for ease in eases], dtype=np.float64)
        chosen = (kind == _BEZIER) & (u > 0) & (u < 1)
        rows = table[which[chosen]]
        out[chosen] = solve_bezier(rows[:, 0], rows[:, 1], rows[:, 2], rows[:, 3], u[chosen])
    for index in np.flatnonzero(kinds == _STEPS):
        chosen = which == index
        ease = eases[index]
        assert isinstance(ease, Steps)
        out[chosen] = steps_progress(ease, u[chosen])
    return out


def solve_bezier(x1: Floats, y1: Floats, x2: Floats, y2: Floats, u: Floats) -> Floats:
    """y of the CSS cubic bezier at x = u, for arrays of equal length; u strictly inside 0…1.

    Newton from u, guarded by a shrinking bracket, so that it also holds where the slope is zero.
    """
    cx = 3.0 * x1
    bx = 3.0 * (x2 - x1) - cx
    ax = 1.0 - cx - bx
    s = u.copy()
    low = np.zeros_like(u)
    high = np.ones_like(u)
    for _ in range(40):
        error = ((ax * s + bx) * s + cx) * s - u
        if np.abs(error).max(initial=0.0) < 1e-12:
            break
        above = error > 0
        high = np.where(above, s, high)
        low = np.where(above, low, s)
        slope = (3.0 * ax * s + 2.0 * bx) * s + cx
        with np.errstate(divide="ignore", invalid="ignore"):
            better = s - error / slope
        s = np.where((better > low) & (better < high), better, 0.5 * (low + high))
    cy = 3.0 * y1
    by = 3.0 * (y2 - y1) - cy
    ay = 1.0 - cy - by
    return ((ay * s + by) * s + cy) * s


def steps_progress(ease: Steps, u: Floats) -> Floats:
    """CSS Easing Functions Level 2, step easing functions."""
    level = np.floor(np.clip(u, 0, 1) * ease.steps + 1e-12)
    if ease.jump in ("start", "both"):
        level += 1
    jumps = ease.steps + {"start": 0, "end": 0, "none": -1, "both": 1}[ease.jump]
    return np.clip(level, 0, jumps) / jumps


_LINEAR, _HOLD, _BEZIER, _STEPS = range(4)


def _kind(ease: Ease) -> int:
    if isinstance(ease, Steps):
        return _STEPS
    if isinstance(ease, Bezier):
        return _BEZIER
    return {"linear": _LINEAR, "hold": _HOLD}.get(ease, _BEZIER)


def ease_words(ease: Ease) -> str:
    """An easing in a few words, for history and cards."""
    if isinstance(ease, str):
        return ease
    if isinstance(ease, Bezier):
        return "cubic-bezier({:g}, {:g}, {:g}, {:g})".format(*ease.bezier)
    return f"steps({ease.steps}, jump-{ease.jump})"
