"""A soft blur, as `core/effects/soft_blur.py` says it."""

from __future__ import annotations

import skia

from ...core.draw.blurs import REACH, SMALL_BLUR
from ..surfaces import new_surface, summed


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """Blurred along both axes; where painters blur differently, as a sum of copies."""
    deviations = [number * scale for number in numbers[:2]]
    small = [scale == 1 and deviation < SMALL_BLUR for deviation in deviations]
    wide = [0.0 if less else deviation for less, deviation in zip(small, deviations, strict=True)]
    if any(wide):
        blurred = new_surface(surface.width(), surface.height())
        ink = skia.Paint(ImageFilter=skia.ImageFilters.Blur(*wide))
        blurred.getCanvas().drawImage(surface.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), ink)
        surface = blurred
    for axis, along in enumerate(((1, 0), (0, 1))):
        if small[axis] and deviations[axis] > 0:
            first = 2 + axis * (REACH + 1)
            surface = summed(surface, numbers[first : first + REACH + 1], along)
    return surface
