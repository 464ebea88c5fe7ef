"""Stripes, as `core/effects/stripes.py` says it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import places, read, unmultiplied, written


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The way across them, where they begin, period, width and softness, and the colour between them."""
    across, down, start, period, left, softness = numbers[:6]
    colour = numbers[6:10]
    pixels = read(surface)
    x, y = places(pixels, scale)
    at = x * across + y * down - start
    within = at - np.floor(at / period) * period
    edge = np.where(within <= left, np.minimum(within, left - within), -np.minimum(within - left, period - within))
    cover = np.minimum(np.maximum(edge / max(softness, 1.0 / scale) + 0.5, 0.0), 1.0)
    if left <= 0:
        cover = np.zeros_like(cover)
    alpha = pixels[..., 3].astype(np.float64)
    kept, between = alpha * cover, alpha * (1.0 - cover) * colour[3] / 255.0
    found = np.empty(pixels.shape)
    for channel in range(3):
        found[..., channel] = (pixels[..., channel] * kept + colour[channel] * between) / 255.0
    found[..., 3] = kept + between
    return written(unmultiplied(found))
