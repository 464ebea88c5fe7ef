"""Copies of a picture averaged by doubling, as `core/effects/spread_blur.py` says it."""

from __future__ import annotations

import skia

from ..surfaces import SAMPLING, new_surface

HALVES = (128, 127)


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The matrices to the first copy and the second, and those of the other doublings."""
    each = [_matrix(numbers[at : at + 6], scale) for at in range(0, 42, 6)]
    surface = _drawn(surface, [(each[0], HALVES[0]), (each[1], HALVES[1])])
    for step in each[2:]:
        surface = _drawn(surface, [(skia.Matrix(), HALVES[0]), (step, HALVES[1])])
    return surface


def _matrix(numbers: list[float], scale: float) -> skia.Matrix:
    a, b, c, d, e, f = numbers
    return skia.Matrix.MakeAll(a, c, e * scale, b, d, f * scale, 0, 0, 1)


def _drawn(surface: skia.Surface, copies: list[tuple[skia.Matrix, int]]) -> skia.Surface:
    out = new_surface(surface.width(), surface.height())
    image, canvas = surface.makeImageSnapshot(), out.getCanvas()
    for matrix, alpha in copies:
        canvas.setMatrix(matrix)
        ink = skia.Paint(AntiAlias=True, Alpha=alpha, BlendMode=skia.BlendMode.kPlus)
        canvas.drawImage(image, 0, 0, SAMPLING, ink)
    return out
