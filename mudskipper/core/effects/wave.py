"""Swaying in waves."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import Acts, Beneath, Effect, Values
from .on_sheet import point_on, rows


class Wave(Effect):
    """Swaying in waves: each line across them moved by a sine of where it lies, bilinear. Both painters compute it
    alike, and differ by 1 of 255 at most."""

    label: ClassVar[str] = "wave"
    words: ClassVar[str] = "water, flag, ripple, displacement"
    painted_by: ClassVar[str] = "wave"

    effect: Literal["wave"] = "wave"
    height: Annotated[NumberTrack, Shown("Height", "px", low=0, high=4_000, what="a height in pixels")] = NumberTrack(
        rest=14.0
    )
    length: Annotated[NumberTrack, Shown("Length", "px", low=2, high=20_000, what="a length in pixels")] = NumberTrack(
        rest=160.0
    )
    angle: Annotated[NumberTrack, Shown("Angle", "°")] = NumberTrack(rest=0.0)
    phase: Annotated[NumberTrack, Shown("Phase", "°")] = NumberTrack(rest=0.0)

    def acts(self, values: Values) -> Acts:
        return np.asarray(values["height"] > 0)

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        return np.repeat(values["height"] + 1.0, 4, axis=1)

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """By how much things are moved on the sheet at the top of a wave (2), and the wave there: its way (2) in
        radians a pixel, and its phase at the sheet's origin (1): 5 columns."""
        angle = np.deg2rad(np.broadcast_to(values["angle"], (len(matrix), 1)))[:, 0]
        cos, sin = np.cos(angle), np.sin(angle)
        a, b, c, d, _, _ = np.moveaxis(matrix, 1, 0)
        height = np.broadcast_to(values["height"], (len(matrix), 1))[:, 0]
        # Upright on the way that the wave goes.
        moved = np.stack([height * (c * cos - a * sin), height * (d * cos - b * sin)], axis=1)
        k = 2.0 * np.pi / np.broadcast_to(values["length"], (len(matrix), 1))[:, 0]
        area = np.where(np.abs(a * d - b * c) < 1e-12, 1e-12, a * d - b * c)
        way = np.stack([k * (d * cos - b * sin) / area, k * (a * sin - c * cos) / area], axis=1)
        corner = point_on(matrix, beneath.box[:, :2])
        phase = np.deg2rad(values["phase"]) - (corner * way).sum(axis=1, keepdims=True)
        return rows(matrix, moved, way, phase)
