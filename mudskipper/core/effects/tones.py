"""How light and how coloured a picture is."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from ..easings.batch import Ease, ease_at
from ..geometry.bezier import Floats
from ..geometry.smooth_curve import through
from ..ground.shown import Shown
from ..tracks.colour import to_linear, to_srgb
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Beneath, Effect, Values

LIGHT = np.array([0.213, 0.715, 0.072])
"""How bright red, green and blue are (Filter Effects 1, 9.6)."""
GREEN = np.array([[-0.213, -0.715, 0.928], [0.143, 0.140, -0.283], [-0.787, 0.715, 0.072]])
WARM = 0.35
"""By which share red grows, and blue falls, at the warmest."""
STEPS = np.arange(256.0)
APART = 0.005
"""How far points of a drawn curve stand apart at least, across."""
Light = Annotated[float, Field(strict=True, ge=0, le=1)]
DrawnPoint = tuple[Light, Light]


class Tones(Effect):
    """Colours made lighter, darker, stronger, warmer.

    One after another: exposure (stops) and temperature in linear light, then, as colours are stored (sRGB), levels,
    the curve, brightness and contrast by a table for each channel; hue and saturation by the matrices of Filter
    Effects 1 (9.6). In each 255th painters agree to the byte.
    """

    label: ClassVar[str] = "tones"
    words: ClassVar[str] = (
        "brightness, contrast, saturation, hue, exposure, temperature, levels, curve, lighter, darker, grade"
    )
    painted_by: ClassVar[str] = "table"

    effect: Literal["tones"] = "tones"
    brightness: Annotated[NumberTrack, Shown("Brightness", "%", low=-100, high=100, what="a brightness in percent")] = (
        NumberTrack(rest=0.0)
    )
    contrast: Annotated[NumberTrack, Shown("Contrast", "%", low=-100, high=300, what="a contrast in percent")] = (
        NumberTrack(rest=10.0)
    )
    saturation: Annotated[NumberTrack, Shown("Saturation", "%", low=0, high=400, what="a saturation in percent")] = (
        NumberTrack(rest=100.0)
    )
    hue: Annotated[NumberTrack, Shown("Hue", "°")] = NumberTrack(rest=0.0)
    exposure: Annotated[NumberTrack, Shown("Exposure", "stops", step=0.1, low=-10, high=10, what="an exposure")] = (
        NumberTrack(rest=0.0)
    )
    temperature: Annotated[NumberTrack, Shown("Temperature", "%", low=-100, high=100, what="a temperature")] = (
        NumberTrack(rest=0.0)
    )
    black: Annotated[PairTrack, Shown("Black", "%", ("in", "out"), low=0, high=100, what="a level in percent")] = (
        PairTrack(rest=(0.0, 0.0))
    )
    white: Annotated[PairTrack, Shown("White", "%", ("in", "out"), low=0, high=100, what="a level in percent")] = (
        PairTrack(rest=(100.0, 100.0))
    )
    gamma: Annotated[NumberTrack, Shown("Gamma", "", step=0.05, low=0.05, high=20, what="a gamma")] = NumberTrack(
        rest=1.0
    )
    curve: Annotated[Ease, Shown("Curve")] = "linear"
    """From how light something is, left, to how light it is made, up."""
    drawn: Annotated[tuple[DrawnPoint, ...], Field(max_length=16), Shown("Drawn curve")] = ()
    """Points that a smooth curve drawn by hand goes through, after the other one; none where it is straight."""

    @field_validator("drawn")
    @classmethod
    def _ascending(cls, points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if any(b[0] - a[0] < APART for a, b in pairwise(points)):
            raise ValueError(f"points of a drawn curve stand {APART:g} and more apart, from left to right")
        return points

    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """A table of 256 for each of red, green and blue, and a matrix of three rows of four: 780 columns."""

        def one(name: str, part: int = 0) -> Floats:
            return values[name][:, part : part + 1]

        warm = one("temperature") / 100.0 * WARM
        stops = 2.0 ** one("exposure")
        tables = []
        for gain in (1.0 + warm, 1.0 + 0.0 * warm, 1.0 - warm):
            share = to_srgb(np.clip(to_linear(STEPS[None] / 255.0) * stops * gain, 0.0, 1.0))
            low, high = one("black") / 100.0, one("white") / 100.0
            share = np.clip((share - low) / np.maximum(high - low, 1e-3), 0.0, 1.0) ** (1.0 / one("gamma"))
            share = one("black", 1) / 100.0 + share * (one("white", 1) - one("black", 1)) / 100.0
            if self.curve != "linear":
                share = ease_at(self.curve, np.clip(share, 0.0, 1.0).reshape(-1)).reshape(share.shape)
            if self.drawn:
                share = through(self.drawn, np.clip(share, 0.0, 1.0))
            bright = 255.0 * share + 2.55 * one("brightness")
            tables.append(127.5 + (bright - 127.5) * (1.0 + one("contrast") / 100.0))
        rows = np.concatenate(np.broadcast_arrays(*tables), axis=1)
        angle = np.deg2rad(one("hue"))[:, :, None]
        turned = LIGHT + np.cos(angle) * (np.eye(3) - LIGHT) + np.sin(angle) * GREEN
        grey = one("saturation")[:, :, None] / 100.0
        whole = (LIGHT + grey * (np.eye(3) - LIGHT)) @ turned
        moved = np.concatenate([whole, np.zeros((len(whole), 3, 1))], axis=2).reshape(len(whole), 12)
        return np.concatenate([np.broadcast_to(part, (max(len(rows), len(moved)), part.shape[1]))
                               for part in (rows, moved)], axis=1)  # fmt: skip
