"""Outlines seen in perspective: points under matrices of nine numbers, and curves cut so finely that their pieces may
be taken for curves again."""

from __future__ import annotations

import numpy as np

from .bezier import Floats

PIECES = 4
"""Into how many pieces curves are cut; each then differs from what it is by less than a hundredth of a pixel."""
NEAREST = 0.05
"""The least share of its distance to which what comes nearer is seen; what lies behind the eye is seen there."""


def project(matrix: Floats, points: Floats) -> Floats:
    """Points (…, 2) through matrices (…, 9), row by row: x' = (m0 x + m1 y + m2) / w, y' = (m3 x + m4 y + m5) / w, with
    w = m6 x + m7 y + m8 (CSS Transforms Level 2, 13)."""
    x, y = points[..., 0], points[..., 1]
    m = np.moveaxis(matrix, -1, 0)
    w = np.maximum(m[6] * x + m[7] * y + m[8], NEAREST)
    return np.stack([(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w], axis=-1)


def near(matrix: Floats, point: Floats) -> Floats:
    """The matrices (n, 6) in the plane that come nearest, about a point (1 | n, 2), to some of nine numbers (n, 9)."""
    m = np.moveaxis(matrix, -1, 0)
    x, y = point[:, 0], point[:, 1]
    w = np.maximum(m[6] * x + m[7] * y + m[8], NEAREST)
    u, v = (m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w
    a, c = (m[0] - u * m[6]) / w, (m[1] - u * m[7]) / w
    b, d = (m[3] - v * m[6]) / w, (m[4] - v * m[7]) / w
    return np.stack([a, b, c, d, u - a * x - c * y, v - b * x - d * y], axis=-1)


Planes = tuple[Floats, ...]
"""Matrices by their nine numbers, row by row: an array for each, as wide as that number needs."""
ZERO, ONE = np.zeros((1, 1)), np.ones((1, 1))
STILL: Planes = (ONE, ZERO, ZERO, ZERO, ONE, ZERO, ZERO, ZERO, ONE)


def moved_by(x: Floats, y: Floats) -> Planes:
    """Matrices that move by x and y."""
    return ONE, ZERO, x, ZERO, ONE, y, ZERO, ZERO, ONE


def in_plane(a: Floats, b: Floats, c: Floats, d: Floats) -> Planes:
    """Matrices that do not move what lies at 0, with the rows a b and c d."""
    return a, b, ZERO, c, d, ZERO, ZERO, ZERO, ONE


def minus(plane: Floats) -> Floats:
    """Its opposite; what is 0 everywhere stays that."""
    return plane if plane is ZERO else -plane


def times(outer: Planes, inner: Planes) -> Planes:
    """The matrices that apply `inner` first, then `outer`."""
    return tuple(
        _sum(*(_product(outer[row + step], inner[column + 3 * step]) for step in range(3)))
        for row in (0, 3, 6)
        for column in range(3)
    )


def _product(one: Floats, other: Floats) -> Floats:
    """A product; what is 0, or 1, everywhere costs nothing."""
    if one is ZERO or other is ZERO:
        return ZERO
    if one is ONE:
        return other
    return one if other is ONE else one * other


def _sum(*parts: Floats) -> Floats:
    found = ZERO
    for part in parts:
        if part is not ZERO:
            found = part if found is ZERO else found + part
    return found


def fine(verbs: str, points: Floats) -> tuple[str, Floats]:
    """An outline, points (n, 2k), whose curves are cut into pieces."""
    made: list[str] = []
    parts: list[Floats] = []
    taken = 0
    now = points[:, :2]
    for verb in verbs:
        count = {"M": 1, "L": 1, "Q": 2, "C": 3, "Z": 0}[verb]
        own = points[:, taken : taken + 2 * count]
        taken += 2 * count
        if verb in "QC":
            made.append(verb * PIECES)
            parts += _cut(np.concatenate([now, own], axis=1).reshape(len(points), count + 1, 2))
        else:
            made.append(verb)
            parts.append(own)
        now = own[:, -2:] if count else now
    return "".join(made), np.concatenate(parts, axis=1) if parts else points


def _cut(curve: Floats) -> list[Floats]:
    """What the pieces of a curve (n, d + 1, 2) take, one after another (de Casteljau)."""
    found = []
    for left in range(PIECES, 0, -1):
        t = 1.0 / left
        level, first, rest = curve, [curve[:, :1]], [curve[:, -1:]]
        while level.shape[1] > 1:
            level = level[:, :-1] + (level[:, 1:] - level[:, :-1]) * t
            first.append(level[:, :1])
            rest.append(level[:, -1:])
        found.append(np.concatenate(first[1:], axis=1).reshape(len(curve), -1))
        curve = np.concatenate(rest[::-1], axis=1)
    return found
