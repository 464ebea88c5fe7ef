"""Whether a layer is shown, and for how long."""

from __future__ import annotations

from ..contents.assets import Assets
from ..contents.filled import SlotValue
from ..document.properties import remade, with_part
from ..document.scene import Layer, Span
from ..document.slots import Slot
from ..ground.errors import Refused
from ..ground.time import timecode
from ..ground.typed_time import typed_time
from ..tracks.base import tidy_frame
from .base import Asked, SlotKind, wants

YES = frozenset({"yes", "y", "true", "1", "x", "on", "shown"})
NO = frozenset({"no", "n", "false", "0", "", "-", "off", "hidden"})


class VisibleSlot(SlotKind):
    """Whether a layer is shown."""

    name = "yes or no"

    def takes(self, layer: Layer, path: str) -> bool:
        return path == "visible"

    def value(self, layer: Layer, path: str) -> SlotValue:
        return layer.visible

    def read(self, text: str, asked: Asked) -> SlotValue:
        given = text.strip().lower()
        if given not in YES | NO:
            raise Refused(f"“{text[:40]}” is neither yes nor no.", where="text", mend="Write yes or no.")
        return given in YES

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        if not isinstance(value, bool):
            raise wants(slot, "yes or no", value)
        return value

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        return layer if value == layer.visible else layer.model_copy(update={"visible": bool(value)})

    def written(self, value: SlotValue, asked: Asked) -> str:
        return "yes" if value else "no"


class LengthSlot(SlotKind):
    """How many frames a layer is there."""

    name = "length"

    def takes(self, layer: Layer, path: str) -> bool:
        return path == "span.length"

    def value(self, layer: Layer, path: str) -> SlotValue:
        return float(layer.span.length)

    def read(self, text: str, asked: Asked) -> SlotValue:
        return typed_time(text, asked.rate)

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise wants(slot, "a number of frames", value)
        low, high = max(slot.low or 1.0, 1.0), min(slot.high or 1_000_000.0, 1_000_000.0)
        if not low <= value <= high or value != int(value):
            raise Refused(
                f"{slot.name} is from {low:g} to {high:g} whole frames long, and {value:g} was given.", where="value"
            )
        return float(value)

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        assert isinstance(value, int | float)
        return of_length(layer, int(value))

    def written(self, value: SlotValue, asked: Asked) -> str:
        assert isinstance(value, int | float)
        return timecode(float(value), asked.rate)


def of_length(layer: Layer, length: int) -> Layer:
    """The layer there for another number of frames: what happens in the first half of its span stays at its beginning,
    what happens in the second at its end, and the time between is longer or shorter. Where that would leave no time
    between, all keys move in proportion. Cadences and formulas go on as they do."""
    old = layer.span.length
    if length == old:
        return layer
    frames = sorted(key.frame for track in layer.tracks.values() for key in track.keys)
    early = max((one for one in frames if one <= old / 2), default=0.0)
    late = min((one for one in frames if one > old / 2), default=float(old))
    squeezed = late + length - old - early < 1

    def at(frame: float) -> float:
        if squeezed:
            return tidy_frame(frame * length / old)
        return frame if frame <= old / 2 else tidy_frame(frame + length - old)

    for path, track in layer.tracks.items():
        if track.keys:
            keys = tuple(key.model_copy(update={"frame": at(key.frame)}) for key in track.keys)
            layer = with_part(layer, path, remade(track, path, keys=keys))
    return layer.model_copy(update={"span": Span(start=layer.span.start, length=length)})
