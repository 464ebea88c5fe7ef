"""Blurs as both painters make them the same: small ones as sums of copies, uneven ones on a sheet of their own."""

from __future__ import annotations

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import inverse

EVEN = 0.995
"""Two deviations of a blur are one where the smaller is at least this share of the larger."""
LEAST_EVEN, MOST_SHEET = 3.0, 8_192.0
"""Pixels: the least deviation of a blur on a sheet of its own, and the longest side of such a sheet."""
SMALL_BLUR = 2.0
"""Pixels below which painters blur differently."""
REACH = 6
"""How many pixels away the furthest copy of a small blur lies."""


def uneven_sheets(matrix: Floats, blur: Floats, region: Floats) -> tuple[Floats, Floats] | None:
    """Sheets (n, 14) on which blurs (1 | n, 1) before a matrix (1 | n, 6) are even, as `operations.MaskPath` has them,
    and those even blurs (n, 1); None where they are even in the scene at every frame. `region` (1 | n, 4) is
    what they must cover of the scene: left, top, right, bottom.

    A blur of a deviation σ before a matrix with the linear part L has the covariance σ²·L·Lᵀ after it. Along the axes
    of that the sheet is drawn smaller or larger until both deviations are the same.
    """
    count = max(len(matrix), len(blur), len(region))
    m, deviation = np.broadcast_to(matrix, (count, 6)), np.broadcast_to(blur, (count, 1))[:, 0]
    a, b, c, d = m[:, 0], m[:, 1], m[:, 2], m[:, 3]
    xx, yy, xy = a * a + c * c, b * b + d * d, a * b + c * d
    middle, apart = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
    long, short = (deviation * np.sqrt(np.maximum(part, 0)) for part in (middle + apart, middle - apart))
    uneven = (deviation > 0) & (short < long * EVEN)
    if not uneven.any():
        return None
    angle = np.arctan2(2 * xy, xx - yy) / 2
    cos, sin = np.cos(angle), np.sin(angle)
    x, y = region[:, [0, 2, 2, 0]], region[:, [1, 1, 3, 3]]
    along, across = x * cos[:, None] + y * sin[:, None], y * cos[:, None] - x * sin[:, None]
    even = np.clip(short, LEAST_EVEN, None)
    wide, high = (np.ptp(way, axis=1) for way in (along, across))
    reached = blurred_by(even)
    kx = reached / np.maximum(long, reached * wide / MOST_SHEET)
    ky = reached / np.maximum(short, reached * high / MOST_SHEET)
    margin = 3 * even + 2
    left, top = along.min(axis=1) * kx - margin, across.min(axis=1) * ky - margin
    # Never quite parallel to the pixels: no painter then takes a short cut.
    there = np.stack([kx * cos, -ky * sin - 1e-7, kx * sin + 1e-7, ky * cos, -left, -top], axis=1)
    back = inverse(there)
    assert back is not None
    ends = np.ceil(np.stack([wide * kx + 2 * margin, high * ky + 2 * margin], axis=1))
    return np.where(uneven[:, None], np.concatenate([there, back, ends], axis=1), 0.0), even[:, None]


def blurred_by(deviation: Floats) -> Floats:
    """The deviation (n,) of what painters make of a blur from 2 px on: three boxes of a whole width, as SVG allows
    (Filter Effects 1, 9.16), are a little narrower than the bell that they stand for."""
    width = np.floor(deviation * 3 * np.sqrt(2 * np.pi) / 4 + 0.5)
    last = width + (width % 2 == 0)
    return np.asarray(np.sqrt((2 * (width**2 - 1) + last**2 - 1) / 12))


def small_blur(deviation: Floats) -> Floats:
    """The weights (n, 7), whole 255ths, of copies 0…6 pixels away whose sum is a blur of a deviation (n, 1) below
    `SMALL_BLUR`; those on both sides together are 255."""
    away = np.arange(REACH + 1)
    with np.errstate(divide="ignore"):
        bell = np.exp(-((away / np.maximum(deviation, 0.05)) ** 2) / 2)
    shares = np.rint(255 * bell / (bell[:, :1] + 2 * bell[:, 1:].sum(axis=1, keepdims=True)))
    shares[:, 0] = 255 - 2 * shares[:, 1:].sum(axis=1)
    return np.asarray(shares)
