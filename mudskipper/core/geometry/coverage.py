"""How large a layer must be to cover the scene, in closed form."""

from __future__ import annotations

import numpy as np

from .bezier import Floats


def shortfall(corners: Floats, anchor: Floats, size: tuple[int, int]) -> Floats:
    """By which factor an oriented box (n, 4, 2) must grow about its anchor (n, 2) in the scene to cover it, 1 or more.

    For each edge: the scene's farthest corner beyond it, over the anchor's distance to it. Infinite where the anchor
    lies outside an edge that does not cover.
    """
    scene = np.array([[0, 0], [size[0], 0], [size[0], size[1]], [0, size[1]]], dtype=np.float64)
    grow = np.ones(len(corners))
    area = _cross(corners[:, 1] - corners[:, 0], corners[:, 3] - corners[:, 0])
    turn = np.sign(area)
    for side in range(4):
        start, end = corners[:, side], corners[:, (side + 1) % 4]
        along = end - start
        length = np.hypot(along[:, 0], along[:, 1])
        with np.errstate(divide="ignore", invalid="ignore"):
            normal = np.stack([along[:, 1], -along[:, 0]], axis=1) / length[:, None] * turn[:, None]
            reach = ((scene[None] - anchor[:, None]) * normal[:, None]).sum(axis=2).max(axis=1)
            edge = ((start - anchor) * normal).sum(axis=1)
            needed = np.where(reach <= edge + 1e-6, 1.0, np.where(edge > 0, reach / edge, np.inf))
        grow = np.maximum(grow, np.where(length > 0, needed, np.inf))
    return np.where(area == 0, np.inf, grow)


def _cross(a: Floats, b: Floats) -> Floats:
    return np.asarray(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])


def bare_parts(corners: Floats, size: tuple[int, int]) -> list[Floats]:
    """The parts of the scene that an oriented box (4, 2) leaves bare: convex polygons (n, 2) that do not overlap.

    Edge by edge of the box, what lies beyond it is bare, and the rest goes on to the next edge (clipping of polygons
    by half-planes, after Sutherland and Hodgman).

    >>> box = np.array([[10.0, 0.0], [40.0, 0.0], [40.0, 30.0], [10.0, 30.0]])
    >>> [part.tolist() for part in bare_parts(box, (40, 30))]
    [[[10.0, 30.0], [0.0, 30.0], [0.0, 0.0], [10.0, 0.0]]]
    """
    rest = np.array([[0, 0], [size[0], 0], [size[0], size[1]], [0, size[1]]], dtype=np.float64)
    one, other = corners[1] - corners[0], corners[3] - corners[0]
    area = float(one[0] * other[1] - one[1] * other[0])
    if abs(area) < 1e-9:
        return [rest]
    found = []
    for side in range(4):
        start, along = corners[side], corners[(side + 1) % 4] - corners[side]
        beyond = np.array([along[1], -along[0]]) * np.sign(area) / np.hypot(*along)
        bare = _half(rest, start, beyond)
        if len(bare) > 2 and _area(bare) > 1e-6:
            found.append(bare)
        rest = _half(rest, start, -beyond)
        if len(rest) < 3:
            break
    return found


def _half(polygon: Floats, start: Floats, way: Floats) -> Floats:
    """The part of a convex polygon on the side of a line through `start` to which `way` points."""
    far = (polygon - start) @ way
    out = []
    for index, (point, here) in enumerate(zip(polygon, far, strict=True)):
        last, before = polygon[index - 1], far[index - 1]
        if (here > 0) != (before > 0):
            out.append(last + (point - last) * before / (before - here))
        if here > 0:
            out.append(point)
    return np.array(out).reshape(-1, 2)


def _area(polygon: Floats) -> float:
    x, y = polygon.T
    return abs(float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())) / 2
