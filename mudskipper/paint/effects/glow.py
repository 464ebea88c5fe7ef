"""A glow, as `core/effects/glow.py` says it."""

from __future__ import annotations

import skia

from ..surfaces import new_surface
from . import soft_blur
from .shadow import tinted


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The blur, the strength in 255ths, the colour, and whether it is in that."""
    image = surface.makeImageSnapshot()
    light = new_surface(surface.width(), surface.height())
    light.getCanvas().drawImage(image, 0, 0)
    if numbers[21] > 0:
        light = tinted(light, 1.0, numbers[17:21])
    shine = soft_blur.paint(light, numbers[:16], scale).makeImageSnapshot()
    out = new_surface(surface.width(), surface.height())
    out.getCanvas().drawImage(image, 0, 0)
    left = int(numbers[16])
    while left > 0:
        ink = skia.Paint(Alpha=min(left, 255), BlendMode=skia.BlendMode.kPlus)
        out.getCanvas().drawImage(shine, 0, 0, skia.SamplingOptions(), ink)
        left -= 255
    return out
