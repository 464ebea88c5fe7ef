"""Pictures bent out of shape, as `core/effects` says it: bulges, waves, four corners."""

from __future__ import annotations

import numpy as np
import skia

from ..pixels import places, read, sampled, written


def bulge(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The centre, the radii, the power."""
    left, top, wide, tall, power = numbers
    pixels = read(surface)
    x, y = places(pixels, scale)
    across, down = (x - left) / wide, (y - top) / tall
    far = np.sqrt(across * across + down * down)
    inside = (far > 0) & (far < 1)
    share = np.where(inside, np.power(np.where(inside, far, 1.0), power - 1.0), 1.0)
    at_x, at_y = left + across * share * wide, top + down * share * tall
    return written(sampled(pixels, at_x * scale, at_y * scale, np.ones(far.shape, dtype=bool)))


def wave(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """By how much things are moved at the top of a wave, its way, its phase."""
    by_x, by_y, way_x, way_y, phase = numbers
    pixels = read(surface)
    x, y = places(pixels, scale)
    share = np.sin(x * way_x + y * way_y + phase)
    at_x, at_y = x - by_x * share, y - by_y * share
    return written(sampled(pixels, at_x * scale, at_y * scale, np.ones(share.shape, dtype=bool)))


def warp(surface: skia.Surface, numbers: list[float], scale: float) -> skia.Surface:
    """The matrix of nine numbers from a place to the one that is seen there."""
    pixels = read(surface)
    x, y = places(pixels, scale)
    a, b, c, d, e, f, g, h, i = numbers
    near = g * x + h * y + i
    there = near > 1e-6
    safe = np.where(there, near, 1.0)
    at_x, at_y = (a * x + b * y + c) / safe, (d * x + e * y + f) / safe
    return written(sampled(pixels, at_x * scale, at_y * scale, there))
