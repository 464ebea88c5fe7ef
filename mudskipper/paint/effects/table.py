"""Colours by a table for each of red, green and blue, and then by a matrix, as tones and colour washes have them."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import read, rounded, written


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """768 numbers of the tables, 12 of the matrix, row by row."""
    pixels = read(surface)
    tables, matrix = np.array(numbers[:768]).reshape(3, 256), numbers[768:780]
    red, green, blue = (tables[channel][pixels[..., channel]] for channel in range(3))
    for channel in range(3):
        a, b, c, d = matrix[4 * channel : 4 * channel + 4]
        pixels[..., channel] = rounded(a * red + b * green + c * blue + d)
    return written(pixels)
