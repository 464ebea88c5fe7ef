"""What a layer shows: shapes, a text or a picture."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from .model import Id, Model, Whole
from .text.fonts import Font
from .tracks import ColourTrack, NumberTrack, PairTrack, Track


def bounded(low: float, high: float, what: str) -> AfterValidator:
    """Refuse a track with a value outside low…high."""

    def check(track: Track) -> Track:
        for name, value in [("rest", track.rest), *((f"keys[{i}]", key.value) for i, key in enumerate(track.keys))]:
            for number in value if isinstance(value, tuple) else (value,):
                if not low <= number <= high:
                    raise ValueError(f"{what} must lie between {low:g} and {high:g}, but {name} is {number:g}")
        return track

    return AfterValidator(check)


Size = Annotated[PairTrack, bounded(0, 100_000, "a size in pixels")]
Radius = Annotated[NumberTrack, bounded(0, 100_000, "a corner radius in pixels")]
Width = Annotated[NumberTrack, bounded(0, 10_000, "a stroke width in pixels")]
TextSize = Annotated[NumberTrack, bounded(0.1, 10_000, "a text size in pixels")]
Tracking = Annotated[NumberTrack, bounded(-1_000, 10_000, "tracking in thousandths of the text size")]
LineHeight = Annotated[NumberTrack, bounded(10, 1_000, "a line height in percent")]


class Stroke(Model):
    """A line along the outline, centred on it."""

    colour: ColourTrack
    width: Width = NumberTrack(rest=4.0)


class ShapeItem(Model):
    """One shape; `at` is its centre in content pixels, the origin being the layer's own."""

    at: PairTrack = PairTrack(rest=(0.0, 0.0))
    size: Size
    fill: ColourTrack | None = None
    stroke: Stroke | None = None


class Rectangle(ShapeItem):
    """A rectangle; `corners` is the radius of all four, at most half the shorter side, as in CSS."""

    shape: Literal["rectangle"] = "rectangle"
    corners: Radius = NumberTrack(rest=0.0)


class Ellipse(ShapeItem):
    """An ellipse that fills its size."""

    shape: Literal["ellipse"] = "ellipse"


Item = Annotated[Rectangle | Ellipse, Field(discriminator="shape")]


class ShapeContent(Model):
    """Shapes, the first at the back."""

    kind: Literal["shape"] = "shape"
    items: Annotated[tuple[Item, ...], Field(min_length=1, max_length=500)]


def _readable(text: str) -> str:
    cleaned = text.replace("\r\n", "\n").replace("\r", "\n").replace("\t", " ")
    if not cleaned.strip():
        raise ValueError("a text needs at least one character that shows; delete the layer to be rid of it")
    if any(ord(c) < 32 and c != "\n" for c in cleaned):
        raise ValueError("a text may hold no control characters but line breaks")
    return cleaned


class TextContent(Model):
    """Lines of text. The origin is the top of the first line's box, at the edge or middle that `align` names."""

    kind: Literal["text"] = "text"
    text: Annotated[str, Field(strict=True, max_length=5_000), AfterValidator(_readable)]
    font: Font = Font()
    size: TextSize = NumberTrack(rest=72.0)
    tracking: Tracking = NumberTrack(rest=0.0)
    line_height: LineHeight = NumberTrack(rest=120.0)
    align: Literal["left", "centre", "right"] = "left"
    fill: ColourTrack = ColourTrack(rest="#1b2628ff")


class PictureContent(Model):
    """A picture of the project. The origin is its top left corner."""

    kind: Literal["picture"] = "picture"
    asset: Id


Content = Annotated[ShapeContent | TextContent | PictureContent, Field(discriminator="kind")]


class PictureInfo(Model):
    """What the core must know of a picture: its size in pixels."""

    id: Id
    width: Annotated[Whole, Field(ge=1)]
    height: Annotated[Whole, Field(ge=1)]


def content_tracks(content: Any) -> dict[str, Track]:
    """The tracks within a content, by their path: `items.0.size`, `fill`, `items.1.stroke.width`."""
    found: dict[str, Track] = {}
    _collect(content, "", found)
    return found


def _collect(value: Any, path: str, found: dict[str, Track]) -> None:
    if isinstance(value, Track):
        found[path] = value
    elif isinstance(value, tuple):
        for index, part in enumerate(value):
            _collect(part, f"{path}.{index}" if path else str(index), found)
    elif isinstance(value, Model):
        for name in type(value).model_fields:
            _collect(getattr(value, name), f"{path}.{name}" if path else name, found)


def replaced(value: Any, path: list[str], new: Any) -> Any:
    """A model or tuple with the part at `path` replaced, all else shared and every bound checked again."""
    head, *rest = path
    if isinstance(value, tuple):
        index = int(head)
        inner = replaced(value[index], rest, new) if rest else new
        return (*value[:index], inner, *value[index + 1 :])
    inner = replaced(getattr(value, head), rest, new) if rest else new
    return type(value).model_validate({**_fields(value), head: inner})


def _fields(value: Model) -> dict[str, Any]:
    return {name: getattr(value, name) for name in type(value).model_fields}
