"""Numbers and pairs: scale, rotation, a size, a place."""

from __future__ import annotations

import re
from typing import Any

from ..contents.assets import Assets
from ..contents.filled import SlotValue
from ..document.properties import shown_of, with_track
from ..document.scene import Layer
from ..document.slots import Slot
from ..ground.errors import Refused
from ..ground.typed_time import number_of
from ..tracks.base import Track
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Asked, SlotKind, wants
from .landed import landed, landing

UNIT = re.compile(r"\s*(?:px|%|°|‰|em|f|s|dB)\s*$", re.IGNORECASE)
BETWEEN = re.compile(r"\s*[;×|/]\s*|\s+|,\s+")


class Tracked(SlotKind):
    """What the kinds of tracks share."""

    track: type[Track]

    def takes(self, layer: Layer, path: str) -> bool:
        track = layer.tracks.get(path)
        return isinstance(track, self.track) and not path.startswith("variants.")

    def value(self, layer: Layer, path: str) -> SlotValue:
        found: SlotValue = landing(layer.tracks[path])
        return found

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        track, about = layer.tracks[path], shown_of(layer, path)
        changed = _in_bounds(landed(track, value, about.low == 0), about.low, about.high)
        return layer if changed == track else with_track(layer, path, changed)


def _in_bounds(track: Track, low: float | None, high: float | None) -> Track:
    """A track whose values on the way are within the bounds of its property as well."""

    def near(value: Any) -> Any:
        if isinstance(value, tuple):
            return tuple(map(near, value))
        return min(max(value, value if low is None else low), value if high is None else high)

    if near(track.rest) == track.rest and all(near(key.value) == key.value for key in track.keys):
        return track
    keys = tuple(key.model_copy(update={"value": near(key.value)}) for key in track.keys)
    return track.with_fields(rest=near(track.rest), keys=keys)


class NumberSlot(Tracked):
    """One number."""

    name = "number"
    track = NumberTrack

    def read(self, text: str, asked: Asked) -> SlotValue:
        return _number(text)

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise wants(slot, "a number", value)
        return bounded(float(value), slot, layer, path)

    def written(self, value: SlotValue, asked: Asked) -> str:
        return f"{value:.6g}"


class PairSlot(Tracked):
    """Two numbers: x and y, or width and height."""

    name = "pair"
    track = PairTrack

    def read(self, text: str, asked: Asked) -> SlotValue:
        parts = [part for part in BETWEEN.split(text.strip()) if part]
        if len(parts) != 2:
            raise Refused(f"“{text[:40]}” is no pair of numbers: write two, as in 120; 40.", where="text")
        return (_number(parts[0]), _number(parts[1]))

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        if not isinstance(value, list | tuple) or len(value) != 2:
            raise wants(slot, "two numbers", value)
        x, y = (bounded(float(one), slot, layer, path) for one in value)
        return (x, y)

    def written(self, value: SlotValue, asked: Asked) -> str:
        pair: Any = value
        return "; ".join(f"{one:.6g}" for one in pair)


def _number(text: str) -> float:
    found = number_of(UNIT.sub("", text))
    if found is None or abs(found) > 1e6:
        raise Refused(f"“{text[:40]}” is no number.", where="text", mend="Write one such as 12 or 0.5.")
    return found


def bounded(value: float, slot: Slot, layer: Layer, path: str) -> float:
    """A number within the bounds of its slot and its property; Refused in words where it is not."""
    about = shown_of(layer, path)
    lows = [one for one in (slot.low, about.low) if one is not None]
    highs = [one for one in (slot.high, about.high) if one is not None]
    low, high = max(lows, default=-1e6), min(highs, default=1e6)
    if not low <= value <= high:
        raise Refused(f"{slot.name} goes from {low:g} to {high:g}, and {value:g} was given.", where="value")
    return value
