"""How a text looks, kept by a project under a name."""

from __future__ import annotations

from typing import Annotated, Any, TypeVar

from pydantic import Field

from ..ground.base_model import Flag, Model
from ..shapes.gradient import Paint
from ..shapes.stroke import Stroke
from ..text.fonts import Font
from ..text.written import Case
from ..tracks.kinds import NumberTrack
from ..tracks.walk import tracks_in
from .base import Content
from .text_parts import Axes, Features

C = TypeVar("C", bound=Content)


class TextStyle(Model):
    """What texts of one style have in common; nothing of it moves."""

    font: Font = Font()
    axes: Axes = ()
    features: Features = ()
    case: Case = "typed"
    size: NumberTrack = NumberTrack(rest=72.0)
    tracking: NumberTrack = NumberTrack(rest=0.0)
    line_height: NumberTrack = NumberTrack(rest=120.0)
    leading: NumberTrack | None = None
    fill: Annotated[Paint | None, Field()] = None
    stroke: Stroke | None = None
    stroke_behind: Flag = False
    spread: str = Field(default="text", pattern="^(text|line|letter)$")


FIELDS = tuple(TextStyle.model_fields)


def style_of(content: Content) -> TextStyle:
    """How a text looks where nothing of it moves."""
    data = content.model_dump(mode="json", include=set(FIELDS))
    return TextStyle.model_validate({name: _still(part) for name, part in data.items()})


def _still(part: Any) -> Any:
    """Data without the keys and the formulas of the tracks in it."""
    if isinstance(part, dict):
        if "rest" in part and "keys" in part:
            return {name: part[name] for name in ("rest", "mix", "named") if name in part}
        return {name: _still(inner) for name, inner in part.items()}
    return [_still(inner) for inner in part] if isinstance(part, list) else part


def styled(content: C, name: str, style: TextStyle) -> tuple[C, list[str]]:
    """A text in a style, and the fields that move and stay as they are."""
    moving = [field for field in FIELDS if any(track.moves for track in _tracks(content, field))]
    given = {field: getattr(style, field) for field in FIELDS if field not in moving}
    return _with(content, {**given, "style": name}), moving


def restyled(content: C, was: TextStyle, style: TextStyle) -> C:
    """A text whose style changes: what was as the style had it is as that has it now."""
    same = {field: getattr(style, field) for field in FIELDS if getattr(content, field) == getattr(was, field)}
    changes = {field: value for field, value in same.items() if value != getattr(content, field)}
    return _with(content, changes) if changes else content


def _tracks(content: Content, field: str) -> list[Any]:
    return [track for path, track in tracks_in(content) if path == field or path.startswith(f"{field}.")]


def _with(content: C, changes: dict[str, Any]) -> C:
    fields = {name: getattr(content, name) for name in type(content).model_fields}
    return type(content).model_validate(fields | changes)
