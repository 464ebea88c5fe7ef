"""Lines of text."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import AfterValidator, Field

from ..draw.pen import Pen
from ..formulas.texts import texts_of
from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..text.fonts import Font
from ..text.layout import Setting, set_text, set_texts, shape
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, TextTrack
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
    written: Annotated[TextTrack | None, Shown("Text")] = None
    """A formula that writes the text, frame by frame; `text` is `base` in it."""

    @property
    def default_name(self) -> str:
        return self.text.split("\n")[0].strip()[: self.longest_name] or "Text"

    @property
    def words(self) -> str:
        return self.text

    def setting(self, values: Values) -> Setting:
        """The text set at its size, tracking and line height."""
        numbers = values["size"], values["tracking"], values["line_height"]
        codes = values.get("written")
        if codes is None or not codes.shape[1]:
            return set_text(shape(self.text, self.font), self.align, *numbers)
        return set_texts(texts_of(codes), self.font, self.align, *numbers)

    def box(self, values: Values, around: Around) -> Floats:
        return self.setting(values).box

    def baselines(self, values: Values) -> Floats:
        setting = self.setting(values)
        return np.asarray(setting.box[:, 1:2] + setting.baselines)

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        setting = self.setting(values)
        count = len(setting.names)
        if not count:
            return  # a formula may write a text of which nothing is seen
        places = setting.places.reshape(-1, count, 2)
        scale = values["size"] / setting.units * setting.seen
        matrices = np.zeros((max(len(places), len(scale)), count, 6))
        matrices[:, :, 0] = matrices[:, :, 3] = scale
        matrices[:, :, 4:] = places
        pen.glyphs(setting.names, matrices.reshape(len(matrices), -1), values["fill"])
