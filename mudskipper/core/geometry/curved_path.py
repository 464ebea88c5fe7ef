"""Curved paths between position keys, travelled by arc length."""

from __future__ import annotations

import numpy as np

from .bezier import Floats

SAMPLES = 1024


class PathStretch:
    """A cubic from `start` to `end` with handles `leave` (from start) and `arrive` (from end), in pixels.

    Distance along it is tabulated by Gauss–Legendre quadrature between samples, so that equal shares of the way are
    equal lengths within 0.01 %.
    """

    def __init__(self, start: Floats, leave: Floats, arrive: Floats, end: Floats) -> None:
        self.points = np.stack([start, start + leave, end + arrive, end])
        s = np.linspace(0, 1, SAMPLES + 1)
        nodes, weights = np.polynomial.legendre.leggauss(4)
        half = 0.5 / SAMPLES
        inner = (s[:-1, None] + half) + half * nodes
        speed = np.hypot(*np.moveaxis(self._velocity(inner), -1, 0))
        self._table = s
        self._far = np.concatenate([[0.0], np.cumsum((speed * weights).sum(axis=1) * half)])
        self.length = float(self._far[-1])

    def at(self, share: Floats) -> Floats:
        """Points (n, 2) at shares (n,) of the length; beyond 0…1 straight on along the end's direction."""
        inside = np.clip(share, 0, 1)
        s = np.interp(inside * self.length, self._far, self._table)
        out = self._point(s)
        over = (share - inside) * self.length
        if over.any():
            out = out + self._direction(s) * over[:, None]
        return out

    def split(self, share: float) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats], Floats]:
        """Handles (leave, arrive) of the parts before and after a share of the length, and the point there."""
        s = float(np.interp(share * self.length, self._far, self._table))
        p = self.points
        first = p[:-1] + (p[1:] - p[:-1]) * s
        second = first[:-1] + (first[1:] - first[:-1]) * s
        middle = second[0] + (second[1] - second[0]) * s
        return (first[0] - p[0], second[0] - middle), (second[1] - middle, first[2] - p[3]), middle

    def _point(self, s: Floats) -> Floats:
        a, b, c, d = self.points
        r = 1 - s
        return np.asarray(
            np.multiply.outer(r**3, a) + np.multiply.outer(3 * r * r * s, b)
            + np.multiply.outer(3 * r * s * s, c) + np.multiply.outer(s**3, d)
        )  # fmt: skip

    def _velocity(self, s: Floats) -> Floats:
        a, b, c, d = self.points
        r = 1 - s
        return np.asarray(
            np.multiply.outer(3 * r * r, b - a) + np.multiply.outer(6 * r * s, c - b)
            + np.multiply.outer(3 * s * s, d - c)
        )  # fmt: skip

    def _direction(self, s: Floats) -> Floats:
        velocity = self._velocity(s)
        # At an end whose handle has no length the curve goes towards the next point that is another one.
        for end, others in ((0.0, (2, 3)), (1.0, (1, 0))):
            here = s == end
            if here.any():
                velocity[here] = self._leaving(int(end), others)
        size = np.hypot(velocity[:, 0], velocity[:, 1])[:, None]
        return np.asarray(np.divide(velocity, size, out=np.zeros_like(velocity), where=size > 0))

    def _leaving(self, end: int, others: tuple[int, int]) -> Floats:
        a, b = (self.points[0], self.points[1]) if end == 0 else (self.points[2], self.points[3])
        step = b - a
        for other in others:
            if np.hypot(*step) > 1e-9:
                break
            step = self.points[other] - self.points[0] if end == 0 else self.points[3] - self.points[other]
        return np.asarray(step)

    def slope(self, share: float) -> Floats:
        """The step (x, y) that a share of 1 more of the length would make, straight on from a share of it."""
        s = np.interp(np.clip([share], 0, 1) * self.length, self._far, self._table)
        return np.asarray(self._direction(s)[0] * self.length)


def smooth_handles(before: Floats | None, here: Floats, after: Floats | None) -> tuple[Floats, Floats]:
    """Automatic handles (arrive, leave) of a key: along its neighbours, a third of the way to each.

    >>> before, here, after = np.array([0, 0]), np.array([30, 30]), np.array([60, 0])
    >>> [handle.round(2).tolist() for handle in smooth_handles(before, here, after)]
    [[-14.14, -0.0], [14.14, 0.0]]
    """
    none = np.zeros(2)
    if before is None or after is None:
        arrive = (before - here) / 3 if before is not None else none
        leave = (after - here) / 3 if after is not None else none
        return arrive, leave
    along = after - before
    size = float(np.hypot(*along))
    if size == 0:
        return none, none
    along = along / size
    return -along * float(np.hypot(*(here - before))) / 3, along * float(np.hypot(*(after - here))) / 3
