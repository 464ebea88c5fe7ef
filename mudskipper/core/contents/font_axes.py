"""The axes of a variable font that a text has values of its own on."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import StringConstraints

from ..ground.base_model import Model, Number
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack


class FontAxis(Model):
    """An axis of a variable font, by its tag and its name, and where on it the text is set; one that a font has not
    changes nothing."""

    noun: ClassVar[str] = "axis"

    tag: Annotated[str, StringConstraints(strict=True, pattern=r"^[ -~]{4}$")]
    name: Annotated[str, StringConstraints(strict=True, strip_whitespace=True, max_length=40)] = ""
    low: Number | None = None
    high: Number | None = None
    """Its least and its largest value in the font that it was taken from; values stop there."""
    value: Annotated[NumberTrack, Shown("", low=-100_000, high=100_000, what="a place on an axis of a font")]

    @property
    def own_limits(self) -> tuple[float, float] | None:
        """From where to where its values go, where that is known."""
        return None if self.low is None or self.high is None else (self.low, self.high)


def axes_once(axes: tuple[FontAxis, ...]) -> tuple[FontAxis, ...]:
    """Axes of which none stands here twice; ValueError in words."""
    if len({axis.tag for axis in axes}) < len(axes):
        raise ValueError("an axis of a font stands here once")
    return axes
