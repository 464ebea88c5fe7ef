"""A colour keyed out, as `core/effects/key_out.py` says it."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import read, rounded, written


def paint(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The colour, tolerance, softness and spill, and whether what is left is shown."""
    key_red, key_green, key_blue, tolerance, softness, spill, matte = numbers
    pixels = read(surface)
    red, green, blue = (pixels[..., channel].astype(np.float64) for channel in range(3))
    key_u = -0.168736 * key_red - 0.331264 * key_green + 0.5 * key_blue
    key_v = 0.5 * key_red - 0.418688 * key_green - 0.081312 * key_blue
    u = -0.168736 * red - 0.331264 * green + 0.5 * blue
    v = 0.5 * red - 0.418688 * green - 0.081312 * blue
    far = np.sqrt((u - key_u) * (u - key_u) + (v - key_v) * (v - key_v))
    kept = np.minimum(np.maximum((far - tolerance) / softness, 0.0), 1.0)
    if matte > 0:
        pixels[..., :3] = rounded(255.0 * kept)[..., None]
        return written(pixels)
    light = 0.299 * red + 0.587 * green + 0.114 * blue
    long = max(key_u * key_u + key_v * key_v, 1e-9)
    along = np.maximum((u * key_u + v * key_v) / long, 0.0) * spill
    u, v = u - key_u * along, v - key_v * along
    pixels[..., 0] = rounded(light + 1.402 * v)
    pixels[..., 1] = rounded(light - 0.344136 * u - 0.714136 * v)
    pixels[..., 2] = rounded(light + 1.772 * u)
    pixels[..., 3] = rounded(pixels[..., 3].astype(np.float64) * kept)
    return written(pixels)
