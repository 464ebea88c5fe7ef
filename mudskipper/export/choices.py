"""What is chosen of a file besides its frames."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ..core.ground.base_model import Flag, Model
from ..core.ground.errors import Refused
from ..core.tracks.colour import Colour

MOST_PIXELS = 16_384
"""A side of a picture at most."""
PLAIN_QUALITY = 80


def _solid(colour: str) -> str:
    if not colour.endswith("ff"):
        raise ValueError("what lies behind must be a colour without transparency, #rrggbb")
    return colour


Rate = tuple[Annotated[int, Field(ge=1, le=1_000_000)], Annotated[int, Field(ge=1, le=100_000)]]
FASTEST = 240
"""Frames a second at most, as a scene has."""


def _slow_enough(rate: Rate) -> Rate:
    if not 1 <= rate[0] / rate[1] <= FASTEST:
        raise ValueError(f"a rate must be from 1 to {FASTEST} frames a second")
    return rate


class Choices(Model):
    """What is chosen of a file; a format says which of these it heeds (`Format.takes`)."""

    quality: Annotated[int, Field(ge=1, le=100)] = PLAIN_QUALITY
    """From the smallest file to the best picture."""
    most: Annotated[float, Field(gt=0, le=1e6)] | None = None
    """Megabytes (10⁶ bytes) that the file is to have at most; in place of a quality."""
    scale: Annotated[float, Field(ge=0.01, le=16)] = 1.0
    """Pixels of the file for a pixel of the scene: it is painted at that size."""
    rate: Annotated[Rate, AfterValidator(_slow_enough)] | None = None
    """Frames a second, as a fraction; by default those of the scene. Frames between its own are painted."""
    behind: Annotated[Colour, AfterValidator(_solid)] | None = None
    """The colour behind what is transparent."""
    premultiplied: Flag = False
    """Colours multiplied by their alpha; else straight."""
    plays: Annotated[int, Field(ge=0, le=1_000)] = 0
    """How often a moving picture plays; 0 is without end."""
    sound: Flag = True
    letters: Literal["outlines", "text"] = "outlines"
    """As what letters of vector files are written: text can be read, found and copied, and has its font within."""
    starts: Literal["at once", "press", "hover", "scroll"] = "at once"
    """When a page begins to play."""

    values: Annotated[tuple[Annotated[str, Field(max_length=200)], ...], Field(max_length=5_000)] = ()
    """Of which layers (by their ids), or which of their properties ("l1.rotation"), a table has values; by default all
    that change."""

    def frames_a_second(self, rate: tuple[int, int]) -> tuple[int, int]:
        """The rate of the file of a scene that has a rate."""
        return self.rate or rate

    def count(self, first: int, stop: int, rate: tuple[int, int]) -> int:
        """How many frames the file has of frames first…stop (not included) of a scene with a rate: as many as begin
        before the last one ends."""
        long = (stop - first) * Fraction(*self.frames_a_second(rate)) / Fraction(*rate)
        return max(-(-long.numerator // long.denominator), 1)

    def moment(self, first: int, number: int, rate: tuple[int, int]) -> float:
        """What frame of the scene a frame of the file shows, which may lie between two."""
        return float(first + number * Fraction(*rate) / Fraction(*self.frames_a_second(rate)))

    def size(self, width: int, height: int, even: bool = False) -> tuple[int, int]:
        """The size in pixels of a scene's picture; where a codec asks for it and it is not the scene's own, a whole
        number of twos. Refused where that is too large."""
        found = tuple(max(round(side * self.scale), 1) for side in (width, height))
        if max(found) > MOST_PIXELS:
            raise Refused(
                f"{found[0]} × {found[1]} pixels were asked, and a picture has at most {MOST_PIXELS} on a side.",
                where="scale",
            )
        if even and self.scale != 1.0:
            found = tuple(max(side - side % 2, 2) for side in found)
        return found[0], found[1]

    def heeded(self, takes: tuple[str, ...], label: str) -> None:
        """Refuse what a format does not heed."""
        for name, field in type(self).model_fields.items():
            if name not in takes and getattr(self, name) != field.default:
                mend = f"It takes {', '.join(takes)}." if takes else "It takes none."
                raise Refused(f"{label} takes no choice '{name}'.", where=name, mend=mend)


PLAIN = Choices()
