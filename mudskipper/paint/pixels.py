"""Pixels of a surface as numbers, and back: red, green, blue, opacity, not premultiplied, as canvases give them."""

from __future__ import annotations

import numpy as np
import skia
from numpy.typing import NDArray

from .surfaces import new_surface

Pixels = NDArray[np.uint8]
Numbers = NDArray[np.float64]


def _info(width: int, height: int) -> skia.ImageInfo:
    return skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kUnpremul_AlphaType)


def read(surface: skia.Surface) -> Pixels:
    """The pixels of a surface (h, w, 4)."""
    wide, high = surface.width(), surface.height()
    found = np.empty((high, wide, 4), dtype=np.uint8)
    surface.readPixels(_info(wide, high), found, wide * 4, 0, 0)
    return found


def written(pixels: NDArray[np.generic]) -> skia.Surface:
    """A surface with pixels (h, w, 4), whole numbers 0…255."""
    high, wide = pixels.shape[:2]
    surface = new_surface(wide, high)
    surface.getCanvas().writePixels(_info(wide, high), np.ascontiguousarray(pixels, dtype=np.uint8), wide * 4, 0, 0)
    return surface


def rounded(numbers: Numbers) -> Numbers:
    """Numbers as whole ones within a byte, halves up, as both painters round."""
    return np.floor(np.minimum(np.maximum(numbers, 0.0), 255.0) + 0.5)


def places(pixels: Pixels, scale: float) -> tuple[Numbers, Numbers]:
    """Where the middles of pixels lie on the sheet: x (1, w) and y (h, 1)."""
    high, wide = pixels.shape[:2]
    x, y = (np.arange(float(count)) + 0.5 for count in (wide, high))
    return np.asarray(x / scale)[None], np.asarray(y / scale)[:, None]


def sampled(pixels: Pixels, x: Numbers, y: Numbers, there: NDArray[np.bool_]) -> Numbers:
    """Pixels at places (h, w) on a surface, bilinear and premultiplied; nothing outside of it, or where none is."""
    high, wide = pixels.shape[:2]
    x = np.where(there, np.minimum(np.maximum(x - 0.5, -2.0), wide + 1.0), -2.0)
    y = np.where(there, np.minimum(np.maximum(y - 0.5, -2.0), high + 1.0), -2.0)
    left, top = np.floor(x), np.floor(y)
    u, v = x - left, y - top
    # A border of nothing.
    around = np.zeros((high + 4, wide + 4, 4))
    around[2:-2, 2:-2] = pixels
    around[..., :3] *= around[..., 3:] / 255.0
    i, j = left.astype(np.intp) + 2, top.astype(np.intp) + 2
    i2, j2 = np.minimum(i + 1, wide + 3), np.minimum(j + 1, high + 3)
    found = np.empty((high, wide, 4))
    for channel in range(4):
        one = around[..., channel]
        upper = one[j, i] * (1.0 - u) + one[j, i2] * u
        lower = one[j2, i] * (1.0 - u) + one[j2, i2] * u
        found[..., channel] = upper * (1.0 - v) + lower * v
    return unmultiplied(found)


def unmultiplied(numbers: Numbers) -> Numbers:
    """Premultiplied numbers (h, w, 4) as pixels, whole ones."""
    alpha = numbers[..., 3:]
    colour = np.where(alpha > 0, numbers[..., :3] * 255.0 / np.where(alpha > 0, alpha, 1.0), 0.0)
    return np.concatenate([rounded(colour), rounded(alpha)], axis=-1)
