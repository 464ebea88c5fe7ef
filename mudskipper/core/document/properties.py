"""The properties of layers by name: what they are called, how to read and to write them."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from ..ground.errors import Refused, refusal_of
from ..ground.shown import Shown
from ..tracks.base import Track
from ..tracks.walk import replaced, shown_at, shown_in
from .scene import Layer

NO_FORMULA: dict[str, Any] = {"formula": None, "formula_from": 0, "formula_seed": None}
"""The fields of a track without a formula."""


def shown_of(layer: Layer, name: str) -> Shown:
    """How a property of a layer is shown; Refused with the names there are."""
    found = layer.shown.get(name)
    if found is None:
        raise _unknown(layer, name)
    return found.about


def label_of(name: str, layer: Layer | None = None) -> str:
    """A property's label, with the number of its shape beyond the first; the path itself where it has none.

    Without the layer, that of the first kind of layer which has such a property.

    >>> label_of("content.items.1.size"), label_of("scale"), label_of("content.nothing")
    ('Size of shape 2', 'Scale', 'content.nothing')
    """
    found = (shown_at(layer, name) if layer else None) or shown_in(Layer, name)
    return found.label if found else name


def track_of(layer: Layer, name: str) -> Track:
    """A layer's track; Refused with the names there are."""
    track = layer.tracks.get(name)
    if track is None:
        raise _unknown(layer, name)
    return track


def _unknown(layer: Layer, name: str) -> Refused:
    have = ", ".join(layer.tracks)
    return Refused(f"'{layer.name}' has no property {name!r}.", where="property", mend=f"It has {have}.")


def with_track(layer: Layer, name: str, track: Track) -> Layer:
    """The layer with a track replaced, its bounds checked; Refused in words where a value is out of bounds."""
    return with_part(layer, name, track)


def with_part(layer: Layer, path: str, value: Any) -> Layer:
    """The layer with the part at a dotted path replaced and checked."""
    try:
        changed: Layer = replaced(layer, path.split("."), value)
    except ValidationError as error:
        raise refusal_of(error, f"{label_of(path, layer)} of '{layer.name}'") from None
    except (AttributeError, IndexError, ValueError) as error:
        if isinstance(error, Refused):
            raise
        raise Refused(f"'{layer.name}' has no part {path!r}.", where="path") from None
    return changed


def within(layer: Layer, name: str, value: Any, notices: list[str]) -> Any:
    """A value brought within the property's bounds; where it had to be, a sentence is added to the notices."""
    about = shown_of(layer, name)
    if about.low is None or about.high is None or isinstance(value, str):
        return value
    numbers = value if isinstance(value, list | tuple) else (value,)
    kept = tuple(min(max(number, about.low), about.high) for number in numbers)
    if kept == tuple(numbers):
        return value
    ends = f"{about.low:g} to {about.high:g}{' ' + about.unit if about.unit else ''}"
    stopped = "; ".join(f"{old:g} stops at {new:g}" for old, new in zip(numbers, kept, strict=True) if old != new)
    said = f"{about.label or label_of(name, layer)} goes from {ends}: {stopped}."
    if said not in notices:
        notices.append(said)
    return kept if isinstance(value, list | tuple) else kept[0]


def remade(track: Track, name: str, **changes: Any) -> Track:
    """The track with fields changed, checked again; Refused in words."""
    try:
        return track.with_fields(**changes)
    except ValidationError as error:
        raise refusal_of(error, label_of(name)) from None
