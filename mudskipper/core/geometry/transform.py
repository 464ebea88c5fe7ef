"""Anchor, position, scale and rotation as matrices.

Layer to scene: M = T(position) · R(rotation) · S(scale / 100) · T(−anchor), y down, rotation clockwise in degrees;
a matrix is written [a, b, c, d, e, f] as in CSS Transforms Level 1 (x' = a·x + c·y + e, y' = b·x + d·y + f).
"""

from __future__ import annotations

import numpy as np

from .bezier import Floats

UNMOVED = np.array([[1.0, 0.0, 0.0, 1.0, 0.0, 0.0]])
COLLAPSED = 1e-12
"""An area below which a matrix has no way back."""


def turn(rotation: Floats) -> tuple[Floats, Floats]:
    """cos and sin of angles in degrees, exact at quarter turns."""
    within = np.mod(rotation, 360.0)
    quarter = within / 90.0
    angle = np.deg2rad(within)
    cos, sin = np.cos(angle), np.sin(angle)
    whole = quarter == np.round(quarter)
    if whole.any():
        step = np.round(quarter).astype(int) % 4
        cos = np.where(whole, np.array([1.0, 0.0, -1.0, 0.0])[step], cos)
        sin = np.where(whole, np.array([0.0, 1.0, 0.0, -1.0])[step], sin)
    return cos, sin


def linear_part(scale: Floats, rotation: Floats) -> Floats:
    """R·S for scale (n, 2) in percent and rotation (n,) in degrees: (n, 2, 2)."""
    cos, sin = turn(rotation)
    x, y = scale[:, 0] / 100.0, scale[:, 1] / 100.0
    return np.stack([np.stack([cos * x, -sin * y], -1), np.stack([sin * x, cos * y], -1)], -2)


def matrices(anchor: Floats, position: Floats, scale: Floats, rotation: Floats) -> Floats:
    """CSS matrices (n, 6) from anchor, position, scale (n, 2) and rotation (n,); arrays broadcast over n."""
    cos, sin = turn(rotation)
    x, y = scale[:, 0] / 100.0, scale[:, 1] / 100.0
    a, b, c, d = cos * x, sin * x, -sin * y, cos * y
    e = position[:, 0] - (a * anchor[:, 0] + c * anchor[:, 1])
    f = position[:, 1] - (b * anchor[:, 0] + d * anchor[:, 1])
    return np.stack(np.broadcast_arrays(a, b, c, d, e, f), axis=-1)


def apply(matrix: Floats, points: Floats) -> Floats:
    """Points (…, 2) through matrices (…, 6)."""
    x, y = points[..., 0], points[..., 1]
    m = np.moveaxis(matrix, -1, 0)
    return np.stack([m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]], axis=-1)


def multiply(outer: Floats, inner: Floats) -> Floats:
    """The matrix that applies `inner` first, then `outer`; (…, 6) each."""
    o, i = np.moveaxis(outer, -1, 0), np.moveaxis(inner, -1, 0)
    return np.stack(
        [
            o[0] * i[0] + o[2] * i[1],
            o[1] * i[0] + o[3] * i[1],
            o[0] * i[2] + o[2] * i[3],
            o[1] * i[2] + o[3] * i[3],
            o[0] * i[4] + o[2] * i[5] + o[4],
            o[1] * i[4] + o[3] * i[5] + o[5],
        ],
        axis=-1,
    )


def inverse(matrix: Floats) -> Floats | None:
    """The matrices (n, 6) that take back what matrices do; None where one of them has collapsed.

    >>> inverse(np.array([[2.0, 0.0, 0.0, 4.0, 6.0, 8.0]])).tolist()
    [[0.5, -0.0, -0.0, 0.25, -3.0, -2.0]]
    """
    a, b, c, d, e, f = np.moveaxis(matrix, -1, 0)
    area = a * d - b * c
    if (np.abs(area) < COLLAPSED).any():
        return None
    back = [d / area, -b / area, -c / area, a / area]
    return np.stack([*back, (c * f - d * e) / area, (b * e - a * f) / area], axis=-1)
