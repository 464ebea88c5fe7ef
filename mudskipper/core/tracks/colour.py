"""Colours, and colours over time."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import AfterValidator, Field

from ..easings.batch import Ease
from ..geometry.bezier import Floats
from ..ground.base_model import Id, Model
from ..ground.errors import Refused
from .base import KeyFrame, Track, Way

COLOUR = re.compile(r"^#[0-9a-f]{8}$")


def _colour(text: str) -> str:
    lowered = text.lower()
    if re.fullmatch(r"#[0-9a-f]{6}", lowered):
        lowered += "ff"
    if not COLOUR.fullmatch(lowered):
        raise ValueError("a colour must be written #rrggbb or #rrggbbaa")
    return lowered


Colour = Annotated[str, Field(strict=True), AfterValidator(_colour)]


class ColourKey(Model):
    """A key of a colour."""

    frame: KeyFrame
    value: Colour
    ease: Ease = "linear"


class ColourTrack(Track):
    """A colour over time, mixed in linear light unless `mix` says sRGB; alpha is always linear."""

    rest: Colour
    keys: tuple[ColourKey, ...] = ()
    mix: Literal["linear-light", "srgb"] = "linear-light"
    named: Id | None = None
    """The colour of the project that it follows, by its id, as long as it is as that one is."""

    @property
    def dims(self) -> int:
        return 4

    @property
    def solvable(self) -> bool:
        return False

    def merged(self, given: Any, now: Any, label: str) -> Any:
        if not isinstance(given, str | list | tuple):
            raise Refused(f"{label} takes a colour #rrggbbaa, and {given!r} was given.", where="value")
        return given if isinstance(given, str) else super().merged(given, now, label)

    def changed(self, now: Any, way: Way, by: float | str, part: int | None, label: str) -> Any:
        if way != "set":
            raise Refused(f"{label} is a colour, which cannot be added to or multiplied.", where="value")
        return self.merged(by, now, label)

    def to_array(self, value: Any) -> list[float]:
        parts = [int(value[i : i + 2], 16) / 255 for i in (1, 3, 5, 7)]
        if self.mix == "linear-light":
            parts[:3] = [_to_linear(part) for part in parts[:3]]
        return parts

    def from_array(self, numbers: Iterable[float]) -> Any:
        return self.document_value(self.finish(np.array([list(numbers)]))[0])

    def document_value(self, numbers: Iterable[float]) -> Any:
        return "#" + "".join(f"{int(part):02x}" for part in numbers)

    def finish(self, values: Floats) -> Floats:
        out = np.clip(values, 0, 1)
        if self.mix == "linear-light":
            out[:, :3] = to_srgb(out[:, :3])
        return np.rint(out * 255)


def to_linear(shares: Floats) -> Floats:
    """Light of what is stored as 0…1 (IEC 61966-2-1, sRGB)."""
    return np.where(shares <= 0.04045, shares / 12.92, ((np.maximum(shares, 0.0) + 0.055) / 1.055) ** 2.4)


def to_srgb(light: Floats) -> Floats:
    """Light 0…1 as it is stored (IEC 61966-2-1, sRGB)."""
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * np.power(np.maximum(light, 0.0), 1 / 2.4) - 0.055)


def contrast(one: str, other: str) -> float:
    """The contrast of two colours, 1 to 21, as WCAG 2.2 defines it; how opaque they are does not count.

    >>> round(contrast("#000000ff", "#ffffffff"), 2), round(contrast("#777777ff", "#ffffffff"), 2)
    (21.0, 4.48)
    """
    dark, light = sorted(float(luminance(_shares(colour))) for colour in (one, other))
    return (light + 0.05) / (dark + 0.05)


READABLE = 4.5
"""The contrast that WCAG 2.2 asks of words (1.4.3)."""


def readable_on(ground: str, offered: Sequence[str]) -> str:
    """The first of some colours that stands out on a ground as words must; black or white, what stands out more, where
    none does.

    >>> readable_on("#0e3f45ff", ["#0e6b61ff", "#f2b544ff"]), readable_on("#777777ff", ["#808080ff"])
    ('#f2b544ff', '#000000ff')
    """
    far = max(("#ffffffff", "#000000ff"), key=lambda colour: contrast(colour, ground))
    return next((colour for colour in offered if contrast(colour, ground) >= READABLE), far)


def luminance(shares: Floats) -> Floats:
    """The relative luminance (…) of stored colours 0…1 (…, 3), as WCAG 2.2 defines it."""
    return np.asarray(to_linear(shares) @ np.array([0.2126, 0.7152, 0.0722]))


def _shares(colour: str) -> Floats:
    return np.array([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)])


def _to_linear(part: float) -> float:
    """IEC 61966-2-1 (sRGB) decoding."""
    return part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4
