"""A vignette, as `core/effects/vignette.py` says it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import places, read, rounded, written


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """How much of it, from where to where it comes, the centre, how far the edges are, the colour."""
    amount, first, last, left, top, wide, tall = numbers[:7]
    pixels = read(surface)
    x, y = places(pixels, scale)
    across, down = (x - left) / wide, (y - top) / tall
    far = np.sqrt(across * across + down * down)
    share = np.minimum(np.maximum((far - first) / (last - first), 0.0), 1.0)
    share = share * share * (3.0 - 2.0 * share) * amount
    for channel in range(3):
        now = pixels[..., channel].astype(np.float64)
        pixels[..., channel] = rounded(now + (numbers[7 + channel] - now) * share)
    return written(pixels)
