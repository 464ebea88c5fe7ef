"""A slot of a scene that a layer shows, as a slot of the scene around it."""

from __future__ import annotations

import re

from ..contents.assets import Assets
from ..contents.filled import Filled, SlotValue
from ..document.properties import with_part
from ..document.scene import Layer
from ..document.slots import Slot
from .base import Asked, SlotKind

INNER = re.compile(r"content\.fills\.@?([A-Za-z0-9_-]{1,64})")


class InnerSlot(SlotKind):
    """The slot `slot` of what a layer shows; `kind` is that one's, and `holder` the layer in there that has its
    sample."""

    def __init__(self, slot: Slot, kind: SlotKind, holder: Layer, path: str) -> None:
        self.slot = slot
        self.kind = kind
        self._holder, self._path = holder, path
        self.name = kind.name  # type: ignore[misc]
        self.medium = kind.medium  # type: ignore[misc]

    def takes(self, layer: Layer, path: str) -> bool:
        found = INNER.fullmatch(path)
        return found is not None and found[1] == self.slot.id

    def value(self, layer: Layer, path: str) -> SlotValue:
        given = next((one.value for one in layer.content.filled if one.slot == self.slot.id), None)
        return self.kind.value(self._holder, self._path) if given is None else given

    def read(self, text: str, asked: Asked) -> SlotValue:
        return self.kind.read(text, asked)

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        named = self.slot.model_copy(update={"name": slot.name})
        return self.kind.checked(self.kind.checked(value, slot, self._holder, self._path), named, self._holder,
                                 self._path)  # fmt: skip

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        return with_fill(layer, self.slot.id, value, self.medium)

    def written(self, value: SlotValue, asked: Asked) -> str:
        return self.kind.written(value, asked)


def with_fill(layer: Layer, slot: str, value: SlotValue | None, medium: str) -> Layer:
    """A layer that shows a scene with one of that one's slots filled; None leaves it as it is there."""
    before = layer.content.filled
    if value is None:
        fills = tuple(one for one in before if one.slot != slot)
    else:
        fill = Filled(slot=slot, value=value, medium=medium)
        known = any(one.slot == slot for one in before)
        fills = tuple(fill if one.slot == slot else one for one in before) if known else (*before, fill)
    return layer if fills == before else with_part(layer, "content.fills", fills)
