"""The easings that are not CSS's: overshoot, bounce and spring, as functions of the time fraction u in 0…1."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from ..geometry.bezier import Floats


def overshoot(u: Floats, amount: float) -> Floats:
    """Beyond the goal by `amount` percent of the way, and back: 1 + (c + 1)(u − 1)³ + c(u − 1)².

    >>> overshoot(np.array([0, 0.5, 1]), 10).round(3).tolist()
    [0.0, 1.088, 1.0]
    """
    c = _overshoot_pull(amount / 100)
    back = u - 1
    return np.asarray(1 + ((c + 1) * back + c) * back * back)


def overshoot_slope(u: float, amount: float) -> float:
    """The derivative of `overshoot` by u."""
    c = _overshoot_pull(amount / 100)
    back = u - 1
    return 3 * (c + 1) * back * back + 2 * c * back


@lru_cache(maxsize=256)
def _overshoot_pull(share: float) -> float:
    """c for which the curve's peak is 1 + share: 4c³ = 27·share·(c + 1)²."""
    if share <= 0:
        return 0.0
    roots = np.roots([4.0, -27 * share, -54 * share, -27 * share])
    return float(max(root.real for root in roots if abs(root.imag) < 1e-9))


def bounce(u: Floats, count: int, damping: float) -> Floats:
    """A fall to the goal, then `count` bounces under constant gravity, each 1 − damping times as high as the last.

    A bounce of height h lasts 2·√h falls, as gravity has it.
    """
    heights = [(1 - damping) ** k for k in range(1, count + 1)]
    ends = np.cumsum([1.0, *(2 * h**0.5 for h in heights)])  # in falls
    t = np.asarray(u) * ends[-1]
    out = np.asarray(np.minimum(t, 1.0) ** 2)
    for height, start, end in zip(heights, ends[:-1], ends[1:], strict=True):
        inside = t >= start
        across = (2 * t[inside] - start - end) / (end - start)
        out[inside] = 1 - height * np.maximum(1 - across**2, 0)
    return out


def bounce_slope(end: int, count: int, damping: float) -> float:
    """The derivative of `bounce` by u at its start, which is 0, or at its end, where the last bounce lands."""
    if end == 0:
        return 0.0
    heights = [(1 - damping) ** k for k in range(1, count + 1)]
    falls = [1.0, *(2 * h**0.5 for h in heights)]
    return float(4 * heights[-1] / falls[-1] * sum(falls))


def landings(count: int, damping: float) -> Floats:
    """The time fractions at which a bounce touches its goal.

    >>> landings(2, 0.5).round(3).tolist()
    [0.293, 0.707, 1.0]
    """
    ends = np.cumsum([1.0, *(2 * (1 - damping) ** (k / 2) for k in range(1, count + 1))])
    return np.asarray(ends / ends[-1])


def spring(u: Floats, response: float, damping: float) -> Floats:
    """A damped spring let go at rest (x'' + 2ζω·x' + ω²·x = 0), ω = 2π / response, brought to rest at u = 1.

    `response` is the undamped period as a share of the stretch, `damping` is ζ. What is left at the end of the stretch,
    e^(−ζω) at most, is taken off in proportion to u, so that it truly settles on the key.
    """
    left = _spring_rest(np.asarray(u, dtype=np.float64), response, damping)
    end = _spring_rest(np.ones(1), response, damping)[0]
    return np.asarray(1 - left + u * end)


def _spring_rest(u: Floats, response: float, damping: float) -> Floats:
    """The distance still to go, 1 at u = 0."""
    omega = 2 * np.pi / response
    if abs(damping - 1) < 1e-9:
        return np.asarray(np.exp(-omega * u) * (1 + omega * u))
    if damping < 1:
        turn = omega * np.sqrt(1 - damping**2)
        return np.asarray(np.exp(-damping * omega * u) * (np.cos(turn * u) + damping * omega / turn * np.sin(turn * u)))
    root = omega * np.sqrt(damping**2 - 1)
    slow, fast = -damping * omega + root, -damping * omega - root
    return np.asarray((slow * np.exp(fast * u) - fast * np.exp(slow * u)) / (slow - fast))


def spring_slope(u: float, response: float, damping: float) -> float:
    """The derivative of `spring` by u: −x'(u) of the damped spring, and what is taken off to settle."""
    omega = 2 * np.pi / response
    end = float(_spring_rest(np.ones(1), response, damping)[0])
    if abs(damping - 1) < 1e-9:
        speed = -(omega**2) * u * np.exp(-omega * u)
    elif damping < 1:
        turn = omega * np.sqrt(1 - damping**2)
        speed = -np.exp(-damping * omega * u) * omega**2 / turn * np.sin(turn * u)
    else:
        root = omega * np.sqrt(damping**2 - 1)
        slow, fast = -damping * omega + root, -damping * omega - root
        speed = slow * fast * (np.exp(fast * u) - np.exp(slow * u)) / (slow - fast)
    return float(end - speed)


def settle_share(response: float, damping: float, within: float = 0.001) -> float:
    """The share of the stretch after which the spring stays within `within` of its goal; 1 where it never does.

    >>> round(settle_share(0.25, 0.7), 2)
    0.41
    """
    u = np.linspace(0, 1, 4001)
    away = np.abs(_spring_rest(u, response, damping)) > within
    return float(u[min(np.flatnonzero(away).max(initial=-1) + 1, 4000)])
