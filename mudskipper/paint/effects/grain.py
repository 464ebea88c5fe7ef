"""Grain, as `core/effects/grain.py` says it."""

from __future__ import annotations

import numpy as np
import skia
from numpy.typing import NDArray

from ..pixels import Numbers, places, read, rounded, written

Words = NDArray[np.uint32]


def scattered(x: Words, y: Words, seed: int) -> Words:
    """Random bits of whole numbers: multiplied and folded as MurmurHash3 ends (Appleby 2011), in 32 bits."""
    with np.errstate(over="ignore"):
        h = (x * np.uint32(0x85EBCA6B)) ^ (y * np.uint32(0xC2B2AE35)) ^ np.uint32(seed)
        h ^= h >> np.uint32(16)
        h *= np.uint32(0x85EBCA6B)
        h ^= h >> np.uint32(13)
        h *= np.uint32(0xC2B2AE35)
        return np.asarray(h ^ (h >> np.uint32(16)))


def words(numbers: Numbers) -> Words:
    """Whole numbers in 32 bits."""
    return np.asarray(np.floor(numbers).astype(np.int64) & 0xFFFFFFFF).astype(np.uint32)


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """How strong, the side of a cell, where one begins, the seed, whether in colour."""
    strength, wide, tall, left, top, seed, coloured = numbers
    pixels = read(surface)
    x, y = places(pixels, scale)
    across, down = words((x - left) / wide), words((y - top) / tall)
    for channel in range(3):
        if channel == 0 or coloured:
            bits = scattered(across, down, int(seed) + channel)
            more = ((bits & np.uint32(0xFFFF)).astype(np.float64) + (bits >> np.uint32(16))) / 65535.0 - 1.0
        pixels[..., channel] = rounded(pixels[..., channel] + more * strength * 127.5)
    return written(pixels)
