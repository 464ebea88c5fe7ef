"""Frames with motion blur: what lies before an open shutter, averaged in linear light."""

from __future__ import annotations

import numpy as np
import skia

from ..core.draw.operations import DrawList
from ..core.tracks.colour import to_linear, to_srgb
from .painter import Painter

LINEAR = to_linear(np.arange(256.0) / 255.0).astype(np.float32)
WHOLE = 1 << 20
STEPS = np.rint(LINEAR.astype(np.float64) * WHOLE).astype(np.uint32)
"""Light in whole numbers, of which as many as there are samples can be added up."""


def paint_exposed(painter: Painter, drawing: DrawList) -> None:
    """Paint the average of all rows of a draw list on a painter's surface."""
    count = len(drawing.frames)
    painter.paint(drawing, 0)
    if count == 1:
        return
    opaque = drawing.background[3] == 255
    measure = _steps if opaque else _light
    total = measure(painter.pixels(opaque))
    for index in range(1, count):
        painter.paint(drawing, index)
        total += measure(painter.pixels(opaque))
    high, wide = total.shape[:2]
    pixels = np.full((high, wide, 4), 255, dtype=np.uint8)
    if opaque:
        pixels[..., :3] = _stored(total / np.float32(count * WHOLE))
    else:
        alpha = total[..., 3:]
        pixels[..., :3] = _stored(total[..., :3] / np.where(alpha > 0, alpha, np.float32(1.0)))
        pixels[..., 3] = np.floor(total[..., 3] / count * 255.0 + 0.5)
    info = skia.ImageInfo.Make(wide, high, skia.kRGBA_8888_ColorType, skia.kUnpremul_AlphaType)
    painter.surface.getCanvas().resetMatrix()
    painter.surface.getCanvas().writePixels(info, pixels, wide * 4, 0, 0)


FINE = 1 << 14
STORED = np.floor(to_srgb(np.arange(FINE + 1) / FINE) * 255.0 + 0.5).astype(np.uint8)
"""Light in so many steps as it is stored."""


def _stored(light: np.ndarray) -> np.ndarray:
    """Light 0…1 as bytes."""
    return np.asarray(STORED.take(np.clip(light * FINE + 0.5, 0, FINE).astype(np.int32)))


def _steps(pixels: np.ndarray) -> np.ndarray:
    """The light of opaque pixels (h, w, 3) in whole numbers."""
    return np.asarray(STEPS.take(pixels[..., :3]))


def _light(pixels: np.ndarray) -> np.ndarray:
    """Pixels (h, w, 4) as light that covers: linear, multiplied by their opacity (h, w, 4)."""
    found = np.empty(pixels.shape, dtype=np.float32)
    found[..., 3] = pixels[..., 3] / np.float32(255.0)
    for channel in range(3):
        found[..., channel] = LINEAR[pixels[..., channel]] * found[..., 3]
    return found
