"""Lines of text."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import AfterValidator, Field

from ..bezier import Floats
from ..draw.pen import Pen
from ..shown import Shown
from ..text.fonts import Font
from ..text.layout import Setting, set_text, shape
from ..tracks import ColourTrack, NumberTrack
from .base import Around, Content, Values


def _readable(text: str) -> str:
    cleaned = text.replace("\r\n", "\n").replace("\r", "\n").replace("\t", " ")
    if not cleaned.strip():
        raise ValueError("a text needs at least one character that shows; delete the layer to remove it")
    if any(ord(c) < 32 and c != "\n" for c in cleaned):
        raise ValueError("a text may hold no control characters but line breaks")
    return cleaned


class TextContent(Content):
    """Lines of text. The origin is the top of the first line's box, at the edge or middle that `align` names."""

    longest_name: ClassVar[int] = 40

    kind: Literal["text"] = "text"
    text: Annotated[str, Field(strict=True, max_length=5_000), AfterValidator(_readable), Shown("Text")]
    font: Annotated[Font, Shown("Font")] = Font()
    size: Annotated[NumberTrack, Shown("Text size", "px", low=0.1, high=10_000, what="a text size in pixels")] = (
        NumberTrack(rest=72.0)
    )
    tracking: Annotated[
        NumberTrack,
        Shown("Tracking", "‰ em", low=-1_000, high=10_000, what="tracking in thousandths of the text size"),
    ] = NumberTrack(rest=0.0)
    line_height: Annotated[NumberTrack, Shown("Leading", "%", low=10, high=1_000, what="a line height in percent")] = (
        NumberTrack(rest=120.0)
    )
    align: Annotated[Literal["left", "centre", "right"], Shown("Alignment")] = "left"
    fill: Annotated[ColourTrack, Shown("Fill")] = ColourTrack(rest="#1b2628ff")

    @property
    def default_name(self) -> str:
        return self.text.split("\n")[0].strip()[: self.longest_name] or "Text"

    @property
    def words(self) -> str:
        return self.text

    def setting(self, values: Values) -> Setting:
        """The text set at its size, tracking and line height."""
        glyphs = shape(self.text, self.font)
        return set_text(glyphs, self.align, values["size"], values["tracking"], values["line_height"])

    def box(self, values: Values, around: Around) -> Floats:
        return self.setting(values).box

    def baselines(self, values: Values) -> Floats:
        setting = self.setting(values)
        return np.asarray(setting.box[:, 1:2] + setting.baselines)

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        glyphs = shape(self.text, self.font)
        places = self.setting(values).places.reshape(-1, len(glyphs.names), 2)
        scale = values["size"] / glyphs.units
        matrices = np.zeros((max(len(places), len(scale)), len(glyphs.names), 6))
        matrices[:, :, 0] = matrices[:, :, 3] = scale
        matrices[:, :, 4:] = places
        pen.glyphs(glyphs.names, matrices.reshape(len(matrices), -1), values["fill"])
