"""A shadow, as `core/effects/shadow.py` says it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import read, rounded, written
from ..surfaces import SAMPLING, new_surface
from . import soft_blur


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The way, the blur, the gain, the colour, and whether it is an inner one."""
    x, y = numbers[0] * scale, numbers[1] * scale
    inner = numbers[23] > 0
    image = surface.makeImageSnapshot()
    shape = new_surface(surface.width(), surface.height())
    if inner:
        shape.getCanvas().clear(skia.ColorBLACK)
        shape.getCanvas().drawImage(image, 0, 0, skia.SamplingOptions(), skia.Paint(BlendMode=skia.BlendMode.kDstOut))
    else:
        shape.getCanvas().drawImage(image, 0, 0)
    shape = tinted(soft_blur.paint(shape, numbers[2:18], scale), numbers[18], numbers[19:23])
    moved = new_surface(surface.width(), surface.height())
    canvas = moved.getCanvas()
    canvas.setMatrix(skia.Matrix.MakeAll(1, 0, x, ASKEW, 1, y, 0, 0, 1))
    canvas.drawImage(shape.makeImageSnapshot(), 0, 0, SAMPLING, skia.Paint(AntiAlias=True))
    canvas.resetMatrix()
    if inner:
        canvas.drawImage(image, 0, 0, skia.SamplingOptions(), skia.Paint(BlendMode=skia.BlendMode.kDstIn))
        out = new_surface(surface.width(), surface.height())
        out.getCanvas().drawImage(image, 0, 0)
        out.getCanvas().drawImage(moved.makeImageSnapshot(), 0, 0)
        return out
    canvas.drawImage(image, 0, 0)
    return moved


ASKEW = 1e-7
"""By how much a picture is drawn off from parallel to the pixels: no painter then takes a short cut."""


def tinted(surface: skia.Surface, gain: float, colour: list[float]) -> skia.Surface:
    """All of it in one colour, its opacity multiplied by a gain, and then by that of the colour."""
    pixels = read(surface)
    alpha = np.minimum(pixels[..., 3] * gain, 255.0)
    pixels[..., :3] = rounded(np.array(colour[:3]))
    pixels[..., 3] = rounded(alpha * colour[3] / 255.0)
    return written(pixels)
