"""What lanes draw of a layer's sound: the least and the largest sample of each stretch of time."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ...document.scene import Layer
from ...geometry.bezier import Floats
from .mix import RATE, heard, heard_at

if TYPE_CHECKING:
    from ..context import Context

Peaks = Callable[[str, Floats], NDArray[np.float32]]
"""Gives the least and the largest sample (n, 2) of an asset between edges (n + 1,) in samples."""


def wave_of(layer: Layer, context: Context, at: Floats, peaks: Peaks) -> Floats:
    """The least and the largest sample (n, 2) of a layer between seconds (n + 1,) of its scene, in order; 0 where
    nothing is heard. A muted layer is drawn all the same; of a scene in it, the sum of its layers'."""
    level, time = layer.content.sound_of(context.assets), layer.content.source_time
    count = len(at) - 1
    if level is None or time is None:
        return np.zeros((count, 2))
    positions, loud = heard_at(context.scene, context, layer, level, time, at)
    inner = [context.within(name, layer.content.filled) for name in layer.content.scenes]
    length = inner[0].scene.length / inner[0].scene.fps if inner else context.assets.clip(layer.content.clips[0]).length
    if "loop" in (time.before, time.after):
        whole = length * RATE
        positions = np.where((positions < 0) | (positions >= whole), np.mod(positions, whole), positions)
    found = _of_scene(inner[0], positions, peaks) if inner else peaks(layer.content.clips[0], positions)
    return np.asarray(found * np.maximum(loud[:-1], loud[1:])[:, None])


def _of_scene(context: Context, positions: Floats, peaks: Peaks) -> Floats:
    """Between positions (n + 1,) in samples of a scene, which may run in any direction: (n, 2)."""
    low, high = float(positions.min()), float(positions.max())
    count = len(positions) - 1
    if high - low < 1:
        return np.zeros((count, 2))
    grid = np.linspace(low, high, count + 1)
    whole = sum(
        (wave_of(layer, context, grid / RATE, peaks) for layer in heard(context.scene, context)), np.zeros((count, 2))
    )
    middles = (positions[:-1] + positions[1:]) / 2
    places = np.clip(np.searchsorted(grid, middles) - 1, 0, count - 1)
    there = (middles >= 0) & (middles < context.scene.length / context.scene.fps * RATE)
    return np.asarray(np.where(there[:, None], np.clip(whole[places], -1.0, 1.0), 0.0))
