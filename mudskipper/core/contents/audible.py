"""How loud a layer is heard: its level, its fades, muted or not."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import Flag, Model
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack

SILENT, LOUDEST = -60.0, 12.0
"""Decibels: at the least nothing is heard."""

Fade = Annotated[float, Field(strict=True, ge=0, le=3_600)]


class Sound(Model):
    """A layer's sound: `level` in decibels, fades in seconds from the ends of its span, muted or not."""

    level: Annotated[
        NumberTrack, Shown("Level", "dB", role="opacity", low=SILENT, high=LOUDEST, what="a level in decibels")
    ] = NumberTrack(rest=0.0)
    fade_in: Annotated[Fade, Shown("Fade in", "s")] = 0.0
    fade_out: Annotated[Fade, Shown("Fade out", "s")] = 0.0
    muted: Annotated[Flag, Shown("Muted")] = False


def gain(level: Floats) -> Floats:
    """The factor of amplitudes of a level in decibels; nothing at `SILENT` and below.

    >>> gain(np.array([0.0, -20.0, -60.0])).tolist()
    [1.0, 0.1, 0.0]
    """
    return np.where(level <= SILENT, 0.0, 10.0 ** (np.minimum(level, LOUDEST) / 20.0))


def fades(seconds: Floats, length: float, fade_in: float, fade_out: float) -> Floats:
    """The factor (n,) of amplitudes at seconds (n,) after a span's start, which is `length` seconds long.

    It rises and falls in a straight line; nothing is heard outside of the span.

    >>> fades(np.array([-1.0, 0.5, 2.0, 3.75]), 4.0, 1.0, 0.5).tolist()
    [0.0, 0.5, 1.0, 0.5]
    """
    rising = np.ones_like(seconds) if fade_in <= 0 else np.clip(seconds / fade_in, 0.0, 1.0)
    falling = np.ones_like(seconds) if fade_out <= 0 else np.clip((length - seconds) / fade_out, 0.0, 1.0)
    there = (seconds >= 0) & (seconds < length)
    return np.asarray(np.where(there, np.minimum(rising, falling), 0.0))
