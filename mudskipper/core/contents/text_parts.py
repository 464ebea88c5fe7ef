"""Parts of a text that are set otherwise than the rest: some of its letters in another font, size or colour."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from ..ground.base_model import Flag, Model, Whole
from ..ground.shown import Shown
from ..shapes.gradient import Paint
from ..shapes.stroke import Stroke
from ..text.features import AGAINST, FEATURES
from ..text.fonts import Font
from ..text.written import Case
from ..tracks.kinds import NumberTrack
from .font_axes import FontAxis, axes_once

MOST_PARTS = 200
MOST_AXES = 16


def _known(names: tuple[str, ...]) -> tuple[str, ...]:
    for name in names:
        if name not in FEATURES:
            raise ValueError(f"there is no feature {name!r}; there are {', '.join(FEATURES)}")
    for one, other in AGAINST.items():
        if one in names and other in names:
            raise ValueError(f"{one} and {other} cannot be together")
    return tuple(dict.fromkeys(names))


Features = Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=40), AfterValidator(_known)]
"""What a font's letters are asked to do, by the names of `text.features`."""
PartName = Annotated[str, StringConstraints(strict=True, strip_whitespace=True, min_length=1, max_length=60)]
Axes = Annotated[tuple[FontAxis, ...], Field(max_length=MOST_AXES), AfterValidator(axes_once)]


class TextPart(Model):
    """The letters (code points as typed) from `start` to `stop` (not included) of a text, and how they differ from the
    rest; what is None is as in the rest. Where parts overlap, the later one holds."""

    noun: ClassVar[str] = "part"
    told_first: ClassVar[bool] = True

    start: Annotated[Whole, Field(ge=0, le=5_000)]
    stop: Annotated[Whole, Field(ge=0, le=5_000)]
    name: Annotated[PartName | None, Shown("Name")] = None
    """What cascades know it by."""
    font: Annotated[Font | None, Shown("Font")] = None
    axes: Annotated[Axes | None, Shown("Axes")] = None
    features: Annotated[Features | None, Shown("Features")] = None
    case: Annotated[Case | None, Shown("Case")] = None
    size: Annotated[
        NumberTrack | None, Shown("Size", "%", low=1, high=10_000, what="a size in percent of the text's")
    ] = None
    tracking: Annotated[
        NumberTrack | None,
        Shown("Tracking", "‰ em", low=-1_000, high=10_000, what="tracking in thousandths of the text size"),
    ] = None
    raised: Annotated[NumberTrack | None, Shown("Raised", "px", low=-10_000, high=10_000, what="a shift in pixels")] = (
        None
    )
    fill: Annotated[Paint | None, Shown("Fill")] = None
    stroke: Annotated[Stroke | None, Shown("Stroke")] = None
    bare: Annotated[Flag, Shown("Without a stroke")] = False
    """Whether it has no stroke where the rest has one."""

    @model_validator(mode="after")
    def _some(self) -> TextPart:
        if self.stop <= self.start:
            raise ValueError(
                f"a part of a text holds a letter at least, and this goes from {self.start} to {self.stop}"
            )
        return self
