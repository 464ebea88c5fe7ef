"""Frame rates as exact fractions, and times as seconds:frames."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Annotated

from pydantic import AfterValidator, Field

FrameRate = Annotated[
    tuple[Annotated[int, Field(strict=True, ge=1, le=240_000)], Annotated[int, Field(strict=True, ge=1, le=1_001)]],
    AfterValidator(lambda rate: _checked(rate)),
]


def _checked(rate: tuple[int, int]) -> tuple[int, int]:
    if not Fraction(1) <= Fraction(*rate) <= Fraction(240):
        raise ValueError("a frame rate must lie between 1 and 240 frames a second, as [frames, seconds]")
    return rate


def rate_fraction(rate: tuple[int, int]) -> Fraction:
    """Frames a second, exactly: [30000, 1001] is 29.97…"""
    return Fraction(*rate)


def drops(rate: tuple[int, int]) -> int:
    """Frame numbers that drop-frame timecode leaves out of a minute (SMPTE ST 12-1): 2 at 29.97, 4 at 59.94, else 0."""
    return {Fraction(30_000, 1_001): 2, Fraction(60_000, 1_001): 4}.get(Fraction(*rate), 0)


def timecode(frame: float, rate: tuple[int, int]) -> str:
    """seconds:frames of a frame number, counted in whole nominal frames a second: frame 41 at 30 is 1:11.

    At 29.97 and 59.94 it is drop-frame (SMPTE ST 12-1), marked by a semicolon: the first two (four) frame numbers of
    every minute are left out but for each tenth, so that it keeps to the clock; from a minute on m:ss;ff.

    >>> timecode(41, (30, 1)), timecode(1800, (30000, 1001))
    ('1:11', '1:00;02')
    """
    nominal = max(round(rate_fraction(rate)), 1)
    # Halves go up, as they do where a page rounds them.
    whole = math.floor(abs(frame) + 0.5) * (-1 if frame < 0 else 1)
    sign, number = ("-" if whole < 0 else ""), abs(whole)
    left_out = drops(rate)
    if left_out:
        tens, rest = divmod(number, 600 * nominal - 9 * left_out)
        minutes = max((rest - left_out) // (60 * nominal - left_out), 0)
        number += left_out * (9 * tens + minutes)
    seconds, frames = divmod(number, nominal)
    if left_out and seconds >= 60:
        return f"{sign}{seconds // 60}:{seconds % 60:02d};{frames:02d}"
    return f"{sign}{seconds}{';' if left_out else ':'}{frames:02d}"
