"""An outline, as `core/effects/outline.py` says it."""

from __future__ import annotations

import math

import numpy as np
import skia

from ..pixels import read, rounded, written

INSIDE = 128


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The width along x and y, and the colour: as near as that to what is half seen at least."""
    wide, tall = (max(number * scale, 0.01) for number in numbers[:2])
    pixels = read(surface)
    reach_x, reach_y = math.ceil(wide) + 1, math.ceil(tall) + 1
    inside = pixels[..., 3] >= INSIDE
    high, across = inside.shape
    # How far the next one is in each column, and from those the nearest in the plane.
    down = np.full((high, across), reach_y, dtype=np.float64)
    down[inside] = 0.0
    for rows in (range(1, high), range(high - 2, -1, -1)):
        for row in rows:
            before = row - 1 if rows.step > 0 else row + 1
            down[row] = np.minimum(down[row], down[before] + 1.0)
    apart = np.where(down >= reach_y, np.inf, (down / tall) * (down / tall))
    nearest = apart.copy()
    for step in range(1, min(reach_x, across - 1) + 1):
        more = (step / wide) * (step / wide)
        np.minimum(nearest[:, step:], apart[:, :-step] + more, out=nearest[:, step:])
        np.minimum(nearest[:, :-step], apart[:, step:] + more, out=nearest[:, :-step])
    cover = np.minimum(np.maximum((1.0 - np.sqrt(nearest)) * min(wide, tall) + 0.5, 0.0), 1.0)
    line = np.empty_like(pixels)
    line[..., :3] = rounded(np.array(numbers[2:5]))
    line[..., 3] = rounded(cover * numbers[5])
    out = written(line)
    out.getCanvas().drawImage(surface.makeImageSnapshot(), 0, 0)
    return out
