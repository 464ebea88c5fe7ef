"""What two versions of a layer's motion differ in, in words."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..easings.text import ease_words
from ..ground.errors import Refused
from ..ground.time import timecode
from ..tracks.base import Track
from .properties import label_of
from .scene import MOTION, Layer, Variant


def motion_of(layer: Layer) -> dict[str, Any]:
    """The tracks that a variant keeps."""
    return {name: getattr(layer, name) for name in MOTION}


def variant_of(layer: Layer, name: str) -> Variant:
    """A layer's kept variant; Refused with the names there are."""
    for variant in layer.variants:
        if variant.name == name:
            return variant
    have = ", ".join(variant.name for variant in layer.variants) or "none"
    raise Refused(f"'{layer.name}' keeps no variant '{name}'.", where="name", mend=f"It keeps {have}.")


def switched(layer: Layer, name: str) -> Layer:
    """The layer moving as its variant `name` does; what it did before is kept in that variant's place."""
    chosen = variant_of(layer, name)
    before = Variant(name=layer.variant, **motion_of(layer))
    kept = tuple(before if variant is chosen else variant for variant in layer.variants)
    return layer.model_copy(update={**motion_of_variant(chosen), "variant": chosen.name, "variants": kept})


def motion_of_variant(variant: Variant) -> dict[str, Any]:
    """The tracks of a variant."""
    return {name: getattr(variant, name) for name in MOTION}


def over_variants(layer: Layer, change: Callable[[Layer], Layer]) -> Layer:
    """The layer changed, and each of its kept variants changed as if it were in use."""
    kept = []
    for variant in layer.variants:
        in_use = layer.model_copy(update={**motion_of_variant(variant), "variants": ()})
        kept.append(Variant(name=variant.name, **motion_of(change(in_use))))
    changed = change(layer)
    return changed.model_copy(update={"variants": tuple(kept)}) if kept else changed


def differences(layer: Layer, name: str, rate: tuple[int, int]) -> list[str]:
    """What the present motion (A) and a variant (B) differ in: values, keys, easings; a sentence each."""
    other = variant_of(layer, name)
    sentences: list[str] = []
    for part in MOTION:
        mine, theirs = getattr(layer, part), getattr(other, part)
        if mine == theirs:
            continue
        if part != "position":
            sentences += _of_tracks(part, mine, theirs, layer, rate)
        elif mine.parts.keys() != theirs.parts.keys():
            sentences.append("Position is one path in one, and x and y apart in the other.")
        else:
            for path, (_, track) in mine.parts.items():
                sentences += _of_tracks(path, track, theirs.parts[path][1], layer, rate)
    return sentences


def _of_tracks(name: str, mine: Track, theirs: Track, layer: Layer, rate: tuple[int, int]) -> list[str]:
    label = label_of(name, layer)
    if not mine.keys and not theirs.keys:
        if mine.rest == theirs.rest:
            return []
        return [f"{label}: {_value(name, mine.rest)} against {_value(name, theirs.rest)}."]
    if len(mine.keys) != len(theirs.keys):
        return [f"{label}: {_count(len(mine.keys))} against {_count(len(theirs.keys))}."]
    sentences = []
    for number, (a, b) in enumerate(zip(mine.keys, theirs.keys, strict=True), 1):
        parts = []
        if a.frame != b.frame:
            times = [timecode(key.frame + layer.span.start, rate) for key in (a, b)]
            parts.append(f"at {times[0]} against {times[1]}")
        if a.value != b.value:
            parts.append(f"{_value(name, a.value)} against {_value(name, b.value)}")
        if a.ease != b.ease and number < len(mine.keys):
            parts.append(f"{ease_words(a.ease)} against {ease_words(b.ease)}")
        if getattr(a, "leave", None) != getattr(b, "leave", None) or getattr(a, "arrive", None) != getattr(
            b, "arrive", None
        ):
            parts.append("bent otherwise")
        if parts:
            sentences.append(f"{label}, key {number}: {'; '.join(parts)}.")
    return sentences


def _value(name: str, value: Any) -> str:
    if name == "anchor":
        return " ".join(f"{n * 100:g} %" for n in value)
    return ", ".join(f"{n:g}" for n in value) if isinstance(value, tuple) else f"{value:g}"


def _count(count: int) -> str:
    return {0: "no keys", 1: "1 key"}.get(count, f"{count} keys")
