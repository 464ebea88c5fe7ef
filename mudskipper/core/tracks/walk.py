"""The parts of a document by their paths: its tracks, and parts replaced."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, get_args

from pydantic.fields import FieldInfo

from ..geometry.bezier import Floats
from ..ground.base_model import Model
from ..ground.kinds import AnyOf, OneOf
from ..ground.shown import Shown
from .base import Track
from .evaluate import evaluate


def tracks_in(value: Any, path: str = "") -> Iterator[tuple[str, Track]]:
    """The tracks within a part, each by its path: `items.0.size`, `fill`, `items.1.stroke.width`."""
    if isinstance(value, Track):
        yield path, value
    elif isinstance(value, tuple):
        for index, part in enumerate(value):
            yield from tracks_in(part, f"{path}.{index}" if path else str(index))
    elif isinstance(value, Model):
        for name in type(value).model_fields:
            if name in value.aside:
                continue
            yield from tracks_in(getattr(value, name), f"{path}.{name}" if path else name)


def evaluated(tracks: Mapping[str, Track], frames: Floats, rate: float) -> dict[str, Floats]:
    """The values of tracks by their paths (1 | n, d), all at the same frames (n,) counted from the layer's start."""
    return dict(zip(tracks, evaluate(list(tracks.values()), [frames] * len(tracks), rate), strict=True))


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


@dataclass(frozen=True)
class ShownPart:
    """What is said of a part, and of which of several like parts it is: number `index`, from 0, or that which is called
    `name`."""

    about: Shown
    index: int = 0
    name: str = ""

    @property
    def label(self) -> str:
        """Its label, with the name or, beyond the first, the number of its shape: `Size of shape 2`. What has no
        label is called as what it is part of."""
        told = self.index or self.about.told or not self.about.label
        which = self.name or (f"{self.about.noun} {self.index + 1}" if told else "")
        if not self.about.label:
            return which.capitalize()
        return f"{self.about.label} of {which}" if which else self.about.label


def shown_at(value: Any, path: str) -> ShownPart | None:
    """What the annotation says of the part at a path; None where there is no such part, or nothing is said of it."""
    found: Shown | None = None
    outer = noun = ""
    told = False
    which: tuple[int, str] = 0, ""
    for name in path.split("."):
        if isinstance(value, tuple):
            if not name.isdigit() or int(name) >= len(value):
                return None
            value, found = value[int(name)], None
            (noun, told), which = _noun(type(value), noun, told), (int(name), getattr(value, "name", ""))
        else:
            field = type(value).model_fields.get(name) if isinstance(value, Model) else None
            if field is None:
                return None
            outer = found.inside if found and found.inside else outer
            limits = getattr(value, "own_limits", None)
            found, value = _shown(field), getattr(value, name)
            if found and limits and found.low is not None:
                found = replace(found, low=limits[0], high=limits[1])
            told = told or (bool(noun) and name == MOTION)
    return ShownPart(found.within(outer, noun, told), *which) if found else None


MOTION = "transform"
"""The field of a part that holds motion of its own, which has the names of the layer's."""


def _noun(kind: type, noun: str, told: bool) -> tuple[str, bool]:
    """What one of several of a kind is called, and whether it is told which it is even of the first; as what it lies in
    where it has no word of its own."""
    own = getattr(kind, "noun", "")
    return (own, getattr(kind, "told_first", False)) if own else (noun, told)


@lru_cache(maxsize=4_096)
def shown_in(kind: type[Model], path: str) -> ShownPart | None:
    """What is said of the part at a path in the first of the kinds that a model may hold which have such a part."""
    name, _, rest = path.partition(".")
    field = kind.model_fields.get(name)
    if field is None:
        return None
    if not rest:
        about = _shown(field)
        return ShownPart(about) if about else None
    number, _, inner = rest.partition(".")
    for one in models_in(field):
        found = shown_in(one, inner if number.isdigit() else rest)
        if found and number.isdigit():
            noun, told = _noun(one, "part", False)
            return ShownPart(found.about.within("", noun, told or inner.startswith(MOTION)), int(number))
        if found:
            return found
    return None


def shown_kinds(kind: type[Model], path: str = "", outer: tuple[type[Model], ...] = ()) -> dict[str, Shown]:
    """How the tracks of every kind are shown, by patterns: paths without numbers, in which a part that may be of
    several kinds is followed by its own: `content:shape.items:rectangle.corners`. A kind's own come first, then those
    of its parts. Kinds that may hold themselves are entered once; `outer` are those entered already."""
    return _shown_kinds(kind, path, outer, "", ("", False))


def _shown_kinds(
    kind: type[Model], path: str, outer: tuple[type[Model], ...], inside_of: str, noun: tuple[str, bool]
) -> dict[str, Shown]:
    found: dict[str, Shown] = {}
    inside: dict[str, Shown] = {}
    for name, field in kind.model_fields.items():
        if name in kind.aside | kind.shown_elsewhere:
            continue
        about = _shown(field)
        here = f"{path}.{name}" if path else name
        models = list(models_in(field))
        if about and any(issubclass(model, Track) for model in models):
            found[here] = about.within(inside_of, *noun)
        for one in models:
            if not issubclass(one, Track) and one not in outer:
                tag = one.model_fields[one.told_by].default if one.told_by else ""
                calls = about.inside if about and about.inside else inside_of
                which = _noun(one, noun[0], noun[1] or (bool(noun[0]) and name == MOTION))
                inside |= _shown_kinds(one, f"{here}:{tag}" if tag else here, (*outer, kind), calls, which)
    return found | inside


def models_in(annotation: Any) -> Iterator[type[Model]]:
    """The kinds of model that a field, or an annotation, names, at any depth."""
    if isinstance(annotation, type) and issubclass(annotation, Model):
        yield annotation
    if isinstance(annotation, OneOf | AnyOf):
        yield from annotation.kinds
    parts = (annotation.annotation, *annotation.metadata) if isinstance(annotation, FieldInfo) else get_args(annotation)
    for part in parts:
        yield from models_in(part)


def _shown(field: FieldInfo) -> Shown | None:
    return next((about for about in field.metadata if isinstance(about, Shown)), None)
