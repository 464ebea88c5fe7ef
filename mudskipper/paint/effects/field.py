"""A field of noise, as `core/effects/noise_field.py` says it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import Numbers, places, read, rounded, written
from .grain import scattered, words


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """How much of it, the side of a cell, where one begins, lattices, evolution, contrast, seed, two colours."""
    amount, wide, tall, left, top, lattices, evolution, contrast, seed = numbers[:9]
    dark, light = numbers[9:13], numbers[13:17]
    pixels = read(surface)
    x, y = places(pixels, scale)
    total = np.zeros((1, 1))
    weight = 0.0
    for octave in range(int(lattices)):
        share, finer = 0.5**octave, 2.0**octave
        across, down = (x[0] - left) / wide * finer, (y[:, 0] - top) / tall * finer
        total = total + _lattice(across, down, evolution * finer, int(seed) + octave) * share
        weight += share
    level = np.minimum(np.maximum((total / weight - 0.5) * contrast + 0.5, 0.0), 1.0)
    for channel in range(3):
        now = pixels[..., channel].astype(np.float64)
        meant = dark[channel] + (light[channel] - dark[channel]) * level
        pixels[..., channel] = rounded(now + (meant - now) * amount)
    opacity = (dark[3] + (light[3] - dark[3]) * level) / 255.0
    pixels[..., 3] = rounded(pixels[..., 3] * (1.0 + (opacity - 1.0) * amount))
    return written(pixels)


def _smooth(u: Numbers) -> Numbers:
    return np.asarray(u * u * (3.0 - 2.0 * u))


def _lattice(x: Numbers, y: Numbers, z: float, seed: int) -> Numbers:
    """Random numbers 0…1 on a lattice, smooth between: first along z, then along x, then along y (h, w)."""
    first_x, first_y, low = np.floor(x.min()), np.floor(y.min()), np.floor(z)
    columns = np.arange(first_x, np.floor(x.max()) + 2)[None]
    rows = np.arange(first_y, np.floor(y.max()) + 2)[:, None]
    level = [
        scattered(words(columns), words(rows), int(seed * 7919 + (low + step) * 104_729) & 0xFFFFFFFF) / 4294967295.0
        for step in (0, 1)
    ]
    turned = float(_smooth(np.array(z - low)))
    grid = level[0] + (level[1] - level[0]) * turned
    i, j = np.floor(x), np.floor(y)
    at, row = (i - first_x).astype(np.intp), (j - first_y).astype(np.intp)
    u, v = _smooth(x - i), _smooth(y - j)[:, None]
    across = grid[:, at] + (grid[:, at + 1] - grid[:, at]) * u
    return np.asarray(across[row] + (across[row + 1] - across[row]) * v)
