"""Easing: how a value travels from one key to the next.

An easing maps the time fraction u in 0…1 of the stretch to the fraction of the way, 0 at u = 0. `linear`, the named
curves, `bezier`, `steps` and `points` are those of CSS Easing Functions Level 2 (cubic-bezier(), steps(), linear()).
"""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from . import motions
from .bezier import Floats, Numbers, coefficients, end_slopes, solve
from .model import Model, Number, Whole

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


class Points(Model):
    """CSS `linear()`: straight from point to point, each (time fraction, share of the way)."""

    points: Annotated[tuple[tuple[Unit, Number], ...], Field(min_length=2, max_length=25_000)]

    @model_validator(mode="after")
    def _in_order(self) -> Points:
        times = [u for u, _ in self.points]
        if times != sorted(times) or times[0] != 0 or times[-1] != 1:
            raise ValueError("points must stand in order of time, the first at 0 and the last at 1")
        return self


class Overshoot(Model):
    """Beyond the goal by this many percent of the way, and back."""

    overshoot: Annotated[float, Field(strict=True, ge=0, le=300)]


class BounceNumbers(Model):
    """How many bounces, and which share of its height each loses."""

    count: Annotated[Whole, Field(ge=1, le=12)] = 3
    damping: Annotated[float, Field(strict=True, gt=0, lt=1)] = 0.6


class Bounce(Model):
    """A fall to the goal with bounces."""

    bounce: BounceNumbers


class SpringNumbers(Model):
    """The period of the undamped spring as a share of the stretch, and the damping ratio."""

    response: Annotated[float, Field(strict=True, ge=0.02, le=2)] = 0.35
    damping: Annotated[float, Field(strict=True, ge=0.05, le=3)] = 0.5


class Spring(Model):
    """A damped spring that settles on the key."""

    spring: SpringNumbers


EaseName = Literal["linear", "hold", "ease", "ease-in", "ease-out", "ease-in-out"]
Ease = EaseName | Bezier | Steps | Points | Overshoot | Bounce | Spring

NAMED: dict[str, Numbers] = {
    "ease": (0.25, 0.1, 0.25, 1.0),
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}


def bezier_numbers(ease: Ease) -> Numbers | None:
    """The four numbers of a bezier or of a CSS name; None for the others."""
    if isinstance(ease, Bezier):
        return ease.bezier
    return NAMED.get(ease) if isinstance(ease, str) else None


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
                out[mine] = _other(ease, u[mine])
    return out


def _other(ease: Ease, u: Floats) -> Floats:
    if isinstance(ease, Steps):
        return steps_progress(ease, u)
    if isinstance(ease, Points):
        return points_progress(ease, u)
    if isinstance(ease, Overshoot):
        return motions.overshoot(u, ease.overshoot)
    if isinstance(ease, Bounce):
        return motions.bounce(u, ease.bounce.count, ease.bounce.damping)
    if isinstance(ease, Spring):
        return motions.spring(u, ease.spring.response, ease.spring.damping)
    return np.where(u >= 1, 1.0, 0.0)


def ease_at(ease: Ease, u: Floats) -> Floats:
    """Progress of one easing at u (n,)."""
    return progress([ease], np.zeros(len(u), dtype=np.intp), u)


def end_slope(ease: Ease, end: int) -> float:
    """d progress / du at u = `end`, 0 or 1, from within, exactly: how fast a value leaves its key or arrives at one."""
    if ease == "linear":
        return 1.0
    numbers = bezier_numbers(ease)
    if numbers is not None:
        return end_slopes(numbers)[end]
    if isinstance(ease, Points):
        (u0, v0), (u1, v1) = ease.points[-2:] if end else ease.points[:2]
        return (v1 - v0) / (u1 - u0) if u1 > u0 else 0.0
    if isinstance(ease, Overshoot):
        return motions.overshoot_slope(float(end), ease.overshoot)
    if isinstance(ease, Bounce):
        return motions.bounce_slope(end, ease.bounce.count, ease.bounce.damping)
    if isinstance(ease, Spring):
        return motions.spring_slope(float(end), ease.spring.response, ease.spring.damping)
    return 0.0


def steps_progress(ease: Steps, u: Floats) -> Floats:
    """CSS Easing Functions Level 2, step easing functions."""
    level = np.floor(np.clip(u, 0, 1) * ease.steps + 1e-12)
    if ease.jump in ("start", "both"):
        level += 1
    jumps = ease.steps + {"start": 0, "end": 0, "none": -1, "both": 1}[ease.jump]
    return np.asarray(np.clip(level, 0, jumps) / jumps)


def points_progress(ease: Points, u: Floats) -> Floats:
    """CSS Easing Functions Level 2, linear(): of two points at one time the later rules."""
    times, values = np.array(ease.points).T
    at = np.clip(np.searchsorted(times, u + 1e-12, side="right") - 1, 0, len(times) - 2)
    wide = times[at + 1] - times[at]
    share = np.where(wide > 0, (u - times[at]) / np.where(wide > 0, wide, 1), 1.0)
    return np.asarray(values[at] + (values[at + 1] - values[at]) * share)
