"""A motion put under another transform: every key is kept."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document.properties import remade
from ..document.scene import Layer
from ..geometry.bezier import Floats
from . import position_keys as position_of


def moved_by(layer: Layer, matrix: Floats, fps: float) -> Layer:
    """The layer, or an item as one, with its motion under a matrix (6,) that keeps angles, every key kept; one that
    stretches serves where the layer is not turned. Where the matrix turns, x and y that move apart become one path."""
    linear = np.array([[matrix[0], matrix[2]], [matrix[1], matrix[3]]])
    mirrored = bool(np.linalg.det(linear) < 0)
    turn = float(np.degrees(np.arctan2(linear[1, 0], linear[0, 0])))
    stretch = np.hypot(linear[0], linear[1]) * np.array([1.0, -1.0 if mirrored else 1.0])
    if linear[0, 1] or linear[1, 0]:
        layer = position_of.joined(layer, fps)
    layer = position_of.under(layer, linear, matrix[4:])
    rotation = _each(layer.rotation, "rotation", lambda n: _tidy((-n if mirrored else n) + turn))
    scale = _each(layer.scale, "scale", lambda pair: tuple(_tidy(n * k) for n, k in zip(pair, stretch, strict=True)))
    return layer.model_copy(update={"rotation": rotation, "scale": scale})


def _each(track: Any, name: str, change: Any) -> Any:
    keys = tuple(key.model_copy(update={"value": change(key.value)}) for key in track.keys)
    return remade(track, name, rest=change(track.rest), keys=keys)


def _tidy(number: float) -> float:
    """Without what multiplying floats has added, of numbers that are written by hand."""
    whole = round(number, 9)
    return float(whole + 0.0) if abs(whole - number) < 1e-10 * max(abs(number), 1.0) else float(number)
