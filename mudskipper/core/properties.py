"""The properties of layers by name: what they are called, their units, how to read and to write them."""

from __future__ import annotations

import re
from typing import Any

from pydantic import ValidationError

from .content import content_tracks, replaced
from .errors import Refused, refusal_of
from .model import Model
from .resolve import OWN, layer_tracks
from .scene import Layer, SplitPosition
from .tracks import ColourTrack, PairTrack, Track


class PropertyFacts(Model):
    """How a property is shown: its label, unit, parts, the colour role it has everywhere, and a scrub's step."""

    label: str
    unit: str
    parts: tuple[str, ...]
    role: str
    step: float = 1.0
    linked: bool = False
    low: float | None = None
    high: float | None = None


FACTS: dict[str, PropertyFacts] = {
    "anchor": PropertyFacts(label="Anchor", unit="", parts=("x", "y"), role="anchor", step=0.01),
    "position": PropertyFacts(label="Position", unit="px", parts=("x", "y"), role="position"),
    "scale": PropertyFacts(
        label="Scale", unit="%", parts=("x", "y"), role="scale", linked=True, low=-100_000, high=100_000
    ),
    "rotation": PropertyFacts(label="Rotation", unit="°", parts=("",), role="rotation"),
    "opacity": PropertyFacts(label="Opacity", unit="%", parts=("",), role="opacity", low=0, high=100),
    "at": PropertyFacts(label="Offset", unit="px", parts=("x", "y"), role="size"),
    "size": PropertyFacts(label="Size", unit="px", parts=("w", "h"), role="size", low=0, high=100000),
    "corners": PropertyFacts(label="Corners", unit="px", parts=("",), role="size", low=0, high=100000),
    "width": PropertyFacts(label="Stroke width", unit="px", parts=("",), role="size", step=0.5, low=0, high=10000),
    "tracking": PropertyFacts(label="Tracking", unit="‰ em", parts=("",), role="size", low=-1000, high=10000),
    "line_height": PropertyFacts(label="Leading", unit="%", parts=("",), role="size", low=10, high=1000),
    "fill": PropertyFacts(label="Fill", unit="", parts=("",), role="size"),
    "colour": PropertyFacts(label="Stroke", unit="", parts=("",), role="size"),
    "position.x": PropertyFacts(label="Position x", unit="px", parts=("",), role="position"),
    "position.y": PropertyFacts(label="Position y", unit="px", parts=("",), role="position"),
    "text_size": PropertyFacts(label="Text size", unit="px", parts=("",), role="size", low=0.1, high=10000),
}


PARTS = {"stroke": "Stroke", "align": "Alignment", "asset": "Picture"}
"""What the parts of contents that have no keys are called, where their names do not say it."""


def facts_of(name: str) -> PropertyFacts:
    """The facts of a property by its full name."""
    if name == "content.size":
        return FACTS["text_size"]
    return FACTS[name] if name in FACTS else FACTS[name.rsplit(".", 1)[-1]]


def label_of(name: str) -> str:
    """A property's label, with the number of its shape beyond the first."""
    found = re.match(r"content\.items\.(\d+)\.", name)
    number = f" of shape {int(found[1]) + 1}" if found and found[1] != "0" else ""
    return facts_of(name).label + number


def track_of(layer: Layer, name: str) -> Track:
    """A layer's track; Refused with the names there are."""
    own = getattr(layer, name, None) if name in OWN else None
    if isinstance(own, Track):
        return own
    if isinstance(layer.position, SplitPosition) and name in ("position.x", "position.y"):
        part: Track = getattr(layer.position, name[-1])
        return part
    inner = content_tracks(layer.content)
    track = inner.get(name.removeprefix("content.")) if name.startswith("content.") else None
    if track is None:
        have = ", ".join(layer_tracks(layer))
        raise Refused(f"'{layer.name}' has no property {name!r}.", where="property", mend=f"It has {have}.")
    return track


def with_track(layer: Layer, name: str, track: Track) -> Layer:
    """The layer with a track replaced, its bounds checked; Refused in words where a value is out of bounds."""
    return with_part(layer, name, track)


def with_part(layer: Layer, path: str, value: Any) -> Layer:
    """The layer with the part at a dotted path replaced and checked."""
    try:
        changed: Layer = replaced(layer, path.split("."), value)
    except ValidationError as error:
        raise refusal_of(error, f"{label_or(path)} of '{layer.name}'") from None
    except (AttributeError, IndexError, ValueError) as error:
        if isinstance(error, Refused):
            raise
        raise Refused(f"'{layer.name}' has no part {path!r}.", where="path") from None
    return changed


def label_or(path: str) -> str:
    """The label of a property, or the path itself where it is none; of any text at all."""
    try:
        return label_of(path)
    except KeyError:
        return PARTS.get(path.rsplit(".", 1)[-1], path)


def merged_value(track: Track, given: Any, now: Any, name: str) -> Any:
    """A value as the track takes it; a part of a pair given as null keeps what it is now."""
    if isinstance(track, PairTrack):
        if not isinstance(given, list | tuple) or len(given) != 2:
            raise Refused(
                f"{label_of(name)} takes a pair [x, y], and {given!r} was given.",
                where="value", mend="Give null for the part that is to stay.",
            )  # fmt: skip
        return tuple(old if new is None else new for new, old in zip(given, now, strict=True))
    if isinstance(given, list | tuple):
        raise Refused(f"{label_of(name)} takes one value, and the list {list(given)!r} was given.", where="value")
    wants_text = isinstance(track, ColourTrack)
    if isinstance(given, str) != wants_text:
        kind = "a colour #rrggbbaa" if wants_text else "a number"
        raise Refused(f"{label_of(name)} takes {kind}, and {given!r} was given.", where="value")
    return given


def within(name: str, value: Any, notices: list[str]) -> Any:
    """A value brought within the property's bounds; where it had to be, a sentence is added to the notices."""
    about = facts_of(name)
    if about.low is None or about.high is None or isinstance(value, str):
        return value
    numbers = value if isinstance(value, list | tuple) else (value,)
    kept = tuple(min(max(number, about.low), about.high) for number in numbers)
    if kept == tuple(numbers):
        return value
    ends = f"{about.low:g} to {about.high:g}{' ' + about.unit if about.unit else ''}"
    stopped = "; ".join(f"{old:g} stops at {new:g}" for old, new in zip(numbers, kept, strict=True) if old != new)
    said = f"{about.label} goes from {ends}: {stopped}."
    if said not in notices:
        notices.append(said)
    return kept if isinstance(value, list | tuple) else kept[0]


def remade(track: Track, name: str, **changes: Any) -> Track:
    """The track with fields changed, checked again; Refused in words."""
    fields = {field: getattr(track, field) for field in type(track).model_fields}
    try:
        return type(track).model_validate(fields | changes)
    except ValidationError as error:
        raise refusal_of(error, label_of(name)) from None
