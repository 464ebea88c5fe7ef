"""Frame rates as exact fractions, and times as seconds:frames."""

from __future__ import annotations

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


def seconds_of(frame: float, rate: tuple[int, int]) -> float:
    """The time in seconds at which a frame begins."""
    return frame * rate[1] / rate[0]


def timecode(frame: float, rate: tuple[int, int]) -> str:
    """seconds:frames of a frame number, counted in whole nominal frames a second: frame 41 at 30 is 1:11."""
    nominal = round(rate_fraction(rate))
    whole = round(frame)
    sign = "-" if whole < 0 else ""
    seconds, frames = divmod(abs(whole), max(nominal, 1))
    return f"{sign}{seconds}:{frames:02d}"
