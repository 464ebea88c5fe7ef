"""A scene with its slots filled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import ValidationError

from ..contents.assets import Assets
from ..contents.filled import Filled, SlotValue
from ..document.places import path_now
from ..document.scene import Layer, Scene
from ..document.slots import Place, Slot
from ..ground.errors import Refused
from . import SLOT_KINDS
from .base import SlotKind
from .inner import INNER, InnerSlot

MOST_KEPT = 16
"""Ways of filling a scene that are kept beside it."""


@dataclass(frozen=True)
class Holder:
    """A part that a slot fills, as it stands: its layer, its path by places, and of which kind it is."""

    kind: SlotKind
    layer: Layer
    path: str

    @property
    def value(self) -> SlotValue:
        """What it holds."""
        return self.kind.value(self.layer, self.path)


def kind_at(layer: Layer, path: str, assets: Assets) -> SlotKind | None:
    """Of which kind the part of a layer at a path by places is; None where it can be no slot."""
    inner = INNER.fullmatch(path)
    if inner is None:
        return next((kind for kind in SLOT_KINDS if kind.takes(layer, path)), None)
    scene = assets.scenes.get(layer.content.scenes[0]) if layer.content.scenes else None
    slot = next((one for one in scene.slots if one.id == inner[1]), None) if scene else None
    found = holders(scene, slot, assets) if scene and slot else []
    return InnerSlot(slot, found[0].kind, found[0].layer, found[0].path) if slot and found else None


def holder_at(scene: Scene, place: Place, assets: Assets) -> Holder | None:
    """The part at a place; None where it is gone."""
    if place.layer not in scene.places:
        return None
    layer = scene.layer(place.layer)
    path = place.path if INNER.fullmatch(place.path) else path_now(layer, place.path)
    kind = kind_at(layer, path, assets) if path is not None else None
    return None if kind is None or path is None else Holder(kind, layer, path)


def holders(scene: Scene, slot: Slot, assets: Assets) -> list[Holder]:
    """The parts that a slot fills, of those that are there and of the kind of the first."""
    found = [one for place in slot.places if (one := holder_at(scene, place, assets)) is not None]
    return [one for one in found if one.kind.name == found[0].kind.name]


def holder_of(scene: Scene, slot: Slot, assets: Assets) -> Holder:
    """What holds the sample of a slot; Refused in words where all that it fills is gone."""
    found = holders(scene, slot, assets)
    if not found:
        raise Refused(
            f"What the slot '{slot.name}' fills is gone.", where=slot.name,
            mend="Undo brings it back; else remove the slot.",
        )  # fmt: skip
    return found[0]


def slot_of(scene: Scene, slot_id: str) -> Slot:
    """A slot by its id; Refused in words where it is gone."""
    found = next((one for one in scene.slots if one.id == slot_id), None)
    if found is None:
        raise Refused(
            f"The scene '{scene.name}' has no such slot; it may have been removed in another window.", where="slot"
        )
    return found


def with_value(scene: Scene, slot: Slot, value: SlotValue, assets: Assets) -> Scene:
    """The scene with a slot filled; the other layers stay the same objects. Refused in words where the value is none
    for it."""
    found = holders(scene, slot, assets)
    if not found:
        holder_of(scene, slot, assets)
    for one in found:
        layer = scene.layer(one.layer.id)
        try:
            layer = one.kind.put(layer, one.path, one.kind.checked(value, slot, layer, one.path), slot, assets)
        except ValidationError as error:
            raise Refused(f"{slot.name} cannot be {value!r}: {error.errors()[0]['msg']}", where="value") from None
        scene = scene if layer is scene.layer(layer.id) else scene.with_layer(layer)
    return scene


def filled(scene: Scene, fills: Sequence[Filled], assets: Assets) -> Scene:
    """A scene with slots filled: those that are gone, or values that are none for them, are left out. Kept beside the
    scene, since it is asked for at every window of frames."""
    if not fills:
        return scene
    kept: dict[tuple[tuple[str, SlotValue], ...], Scene] = scene.__dict__.setdefault("_filled", {})
    key = tuple((one.slot, one.value) for one in fills)
    known = kept.get(key)
    if known is None:
        known = scene
        for one in fills:
            slot = next((slot for slot in scene.slots if slot.id == one.slot), None)
            if slot is None:
                continue
            try:
                known = with_value(known, slot, one.value, assets)
            except Refused:
                continue
        # What is not there yet has no size, and will have one.
        if all(not one.medium or one.medium == "font" or one.value in assets.pictures or one.value in assets.clips
               for one in fills):  # fmt: skip
            if len(kept) >= MOST_KEPT:
                kept.pop(next(iter(kept)))
            kept[key] = known
    return known
