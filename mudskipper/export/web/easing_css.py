"""Easings and keyframes as CSS writes them."""

from __future__ import annotations

import numpy as np

from ...core.easings.batch import LINEAR, Ease, bezier_numbers, progress, ready

NEAR = 1e-4
"""How far of the way a curve that is told by points may be off."""
FINE = 20_001
OF_CSS = ("linear", "steps")
"""The functions that CSS has as we do, besides cubic-bezier()."""


def css_easing(ease: Ease) -> str:
    """An easing as CSS Easing Functions Level 2: cubic-bezier(), steps() and linear() as they are, all others as
    linear() through points, off by `NEAR` of the way at most.

    >>> css_easing("hold"), css_easing("ease-in")
    ('steps(1, jump-end)', 'cubic-bezier(0.42, 0, 1, 1)')
    """
    if ease == "linear":
        return "linear"
    if ease == "hold":
        return "steps(1, jump-end)"
    numbers = bezier_numbers(ease)
    if numbers is not None:
        return f"cubic-bezier({', '.join(f'{number:g}' for number in numbers)})"
    if not isinstance(ease, str) and ease.function in OF_CSS:
        return ease.text
    u = np.linspace(0.0, 1.0, FINE)
    batch = ready([ease])
    assert batch.kinds[0] != LINEAR
    points = fewest_points(u, progress(batch, np.zeros(FINE, dtype=np.intp), u), NEAR)
    return f"linear({', '.join(f'{value:.5g} {at * 100:.5g}%' for at, value in points)})"


def fewest_points(times: np.ndarray, values: np.ndarray, near: float) -> list[tuple[float, float]]:
    """Of values (n,) at times, those between which straight lines are off by `near` at most (Ramer, Douglas and
    Peucker, with distances along the value)."""
    kept = keep_points(times, values[:, None], near)
    return [(float(times[index]), float(values[index])) for index in kept]


def keep_points(times: np.ndarray, values: np.ndarray, near: float) -> list[int]:
    """The places of values (n, d) between which straight lines are off by `near` at most in each number."""
    kept, open_ends = {0, len(times) - 1}, [(0, len(times) - 1)]
    while open_ends:
        first, last = open_ends.pop()
        if last - first < 2:
            continue
        inner = slice(first + 1, last)
        share = ((times[inner] - times[first]) / (times[last] - times[first]))[:, None]
        off = np.abs(values[first] + (values[last] - values[first]) * share - values[inner]).max(axis=1)
        worst = int(off.argmax())
        if off[worst] > near:
            kept.add(first + 1 + worst)
            open_ends += [(first, first + 1 + worst), (first + 1 + worst, last)]
    return sorted(kept)
