"""What a picture measures: how bright it is across, and how much of it has how much red, green and blue."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

COLUMNS, LEVELS = 96, 64
LUMA = np.array([0.2126, 0.7152, 0.0722])
"""The shares of red, green and blue in brightness (ITU-R BT.709), of values as they are stored."""


def waveform(pixels: NDArray[np.uint8]) -> NDArray[np.int64]:
    """How many pixels of each column of a picture (h, w, 4) have each brightness: (`COLUMNS`, `LEVELS`), fewer columns
    where it is narrower, the darkest level first. What is see-through counts by how much of it is seen."""
    bright = (_seen(pixels) @ LUMA).round().astype(np.int64)
    level = np.minimum(bright * LEVELS // 256, LEVELS - 1)
    wide = pixels.shape[1]
    columns = min(COLUMNS, wide)
    column = np.arange(wide) * columns // wide
    place = column[None, :] * LEVELS + level
    return np.bincount(place.ravel(), minlength=columns * LEVELS).reshape(columns, LEVELS)


def histogram(pixels: NDArray[np.uint8]) -> NDArray[np.int64]:
    """How many pixels of a picture (h, w, 4) have each level of red, green and blue: (3, `LEVELS`)."""
    level = np.minimum(_seen(pixels).round().astype(np.int64) * LEVELS // 256, LEVELS - 1)
    return np.stack([np.bincount(level[..., part].ravel(), minlength=LEVELS) for part in range(3)])


def _seen(pixels: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Red, green and blue (h, w, 3) over black."""
    return pixels[..., :3] * (pixels[..., 3:] / 255.0)
