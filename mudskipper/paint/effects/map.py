"""Colours by a table of them by brightness, as two tones and gradients have it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import read, rounded, written


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """How much of it, and 256 colours."""
    pixels = read(surface)
    amount, table = numbers[0], np.array(numbers[1:1025]).reshape(256, 4)
    red, green, blue = (pixels[..., channel].astype(np.float64) for channel in range(3))
    found = table[np.floor(0.213 * red + 0.715 * green + 0.072 * blue + 0.5).astype(np.intp)]
    for channel in range(3):
        now = pixels[..., channel].astype(np.float64)
        pixels[..., channel] = rounded(now + (found[..., channel] - now) * amount)
    share = 1.0 + (found[..., 3] / 255.0 - 1.0) * amount
    pixels[..., 3] = rounded(pixels[..., 3] * share)
    return written(pixels)
