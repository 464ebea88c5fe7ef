"""Dots of ink on paper, as `core/effects/halftone.py` says it."""

from __future__ import annotations

import math

import numpy as np
import skia

from ..pixels import places, read, rounded, written

LARGEST = 0.7072
"""The radius of a dot that fills its cell, as a share of the side of that."""


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """How much of it, the side of a cell and its angle, where one begins, ink and paper."""
    amount, side, angle, left, top = numbers[:5]
    ink, paper = numbers[5:9], numbers[9:13]
    pixels = read(surface)
    high, wide = pixels.shape[:2]
    x, y = places(pixels, scale)
    cos, sin = math.cos(angle), math.sin(angle)
    u = (cos * (x - left) + sin * (y - top)) / side
    v = (cos * (y - top) - sin * (x - left)) / side
    light = 0.213 * pixels[..., 0] + 0.715 * pixels[..., 1] + 0.072 * pixels[..., 2]
    dark = np.where(pixels[..., 3] > 0, 1.0 - light / 255.0, 0.0)
    cover = np.zeros((high, wide))
    for across in (0.0, 1.0):
        for down in (0.0, 1.0):
            i, j = np.floor(u - 0.5) + 0.5 + across, np.floor(v - 0.5) + 0.5 + down
            at_x = np.floor((left + (cos * i - sin * j) * side) * scale)
            at_y = np.floor((top + (sin * i + cos * j) * side) * scale)
            at_x = np.minimum(np.maximum(at_x, 0.0), wide - 1.0).astype(np.intp)
            at_y = np.minimum(np.maximum(at_y, 0.0), high - 1.0).astype(np.intp)
            radius = np.sqrt(dark[at_y, at_x]) * (LARGEST * side + 0.5 / scale)
            away = np.sqrt((u - i) * (u - i) + (v - j) * (v - j)) * side
            dot = np.minimum(np.maximum((radius - away) * scale + 0.5, 0.0), 1.0)
            cover = np.maximum(cover, np.where(radius > 0, dot, 0.0))
    for channel in range(3):
        now = pixels[..., channel].astype(np.float64)
        meant = paper[channel] + (ink[channel] - paper[channel]) * cover
        pixels[..., channel] = rounded(now + (meant - now) * amount)
    share = (paper[3] + (ink[3] - paper[3]) * cover) / 255.0
    pixels[..., 3] = rounded(pixels[..., 3] * (1.0 + (share - 1.0) * amount))
    return written(pixels)
