"""A mosaic, as `core/effects/pixels.py` says it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import places, read, unmultiplied, written


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The sides of a cell, and where one begins: each in the average of what lies in it."""
    wide, tall, left, top = numbers
    pixels = read(surface)
    x, y = places(pixels, scale)
    across, down = np.floor((x[0] - left) / wide), np.floor((y[:, 0] - top) / tall)
    starts_x = np.flatnonzero(np.diff(across, prepend=across[0] - 1))
    starts_y = np.flatnonzero(np.diff(down, prepend=down[0] - 1))
    whole = pixels.astype(np.int64)
    whole[..., :3] *= whole[..., 3:]
    sums = np.add.reduceat(np.add.reduceat(whole, starts_y, axis=0), starts_x, axis=1).astype(np.float64)
    counts_x, counts_y = (np.diff(np.append(starts, count)) for starts, count in
                          ((starts_x, len(across)), (starts_y, len(down))))  # fmt: skip
    count = (counts_y[:, None] * counts_x[None])[..., None].astype(np.float64)
    sums[..., :3] /= 255.0
    cells = unmultiplied(sums / count)
    at = np.repeat(np.arange(len(starts_x)), counts_x)
    row = np.repeat(np.arange(len(starts_y)), counts_y)
    return written(cells[row][:, at])
