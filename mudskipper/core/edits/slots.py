"""Edits of slots: properties under a name, and what fills them."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field, ValidationError

from ..contents.filled import SlotValue
from ..document.items_as_layers import item_layer, outer_path, split_address, transform_of
from ..document.places import BY_ID, steady_path
from ..document.properties import label_of, with_part
from ..document.scene import Layer, Scene, new_id
from ..document.slots import MOST_PLACES, MOST_SLOTS, Path, Place, Slot, checked_slots
from ..ground.base_model import Address, Id, Model, Name, Number, Whole, WholeLayer
from ..ground.errors import Refused, refusal_of
from ..shapes.masks import MaskTransform
from ..slots import SLOT_KINDS, SlotKind
from ..slots.filling import holder_of, kind_at, slot_of, with_value
from ..slots.inner import INNER, InnerSlot, with_fill
from .base import Edit, EditContext, name_of
from .layers import free_among

NAMED_AS_ITS_LAYER = frozenset({"text", "picture", "clip", "sound"})


class MakeSlot(Edit):
    """Make a property of a layer or a shape a slot, by the path that it has there; or have it filled along with a
    `slot` of the same kind. Nothing changes to be seen."""

    takes_addresses: ClassVar[bool] = True

    edit: Literal["make_slot"] = "make_slot"
    layer: Address
    path: Path
    name: Name | None = None
    slot: Id | None = None
    id: Id = Field(default_factory=lambda: new_id())

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        scene, layer, path = _found(scene, self.layer, self.path)
        kind = kind_at(layer, path, context.assets)
        if kind is None:
            kinds = ", ".join(one.name for one in SLOT_KINDS)
            raise Refused(
                f"{label_of(self.path, item_layer(scene, self.layer))} of '{layer.name}' can be no slot.", where="path",
                mend=f"Slots are of these kinds: {kinds}.",
            )  # fmt: skip
        inner = INNER.fullmatch(path)
        place = Place(layer=layer.id, path=f"content.fills.{BY_ID}{inner[1]}" if inner else steady_path(layer, path))
        known = next((one for one in scene.slots if place in one.places), None)
        if known is not None:
            raise Refused(f"This is what the slot '{known.name}' fills already.", where="path")
        if self.slot is not None:
            return _also(scene, slot_of(scene, self.slot), place, kind, context)
        if any(one.id == self.id for one in scene.slots):
            raise Refused(f"A slot with the id {self.id} is there already.", where="id", mend="Leave the id out.")
        name = self.name or _free(scene, _own_name(layer, path, kind))
        return with_slots(scene, (*scene.slots, Slot(id=self.id, name=name, places=(place,))))

    def words(self, scene: Scene) -> str:
        return f"Made a slot of {_label(scene, self.layer, self.path)}"


class ChangeSlot(Edit):
    """Change what a slot is called, its bounds, how pictures lie in it, or its place among the others (from 0)."""

    takes_items: ClassVar[bool] = False

    class Bounds(Model):
        """The bounds of a slot, all of them; None is no bound."""

        low: Number | None = None
        high: Number | None = None
        most: Annotated[Whole, Field(ge=1, le=5_000)] | None = None

    edit: Literal["change_slot"] = "change_slot"
    slot: Id
    name: Name | None = None
    bounds: Bounds | None = None
    fit: Literal["fill", "inside"] | None = None
    to: Annotated[Whole, Field(ge=0, le=MOST_SLOTS)] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        slot = slot_of(scene, self.slot)
        changes = {name: value for name in ("name", "fit") if (value := getattr(self, name)) is not None}
        if self.bounds is not None:
            low, high = self.bounds.low, self.bounds.high
            if low is not None and high is not None and low > high:
                raise Refused(f"The least value, {low:g}, is above the largest, {high:g}.", where="bounds")
            changes |= {"low": low, "high": high, "most": self.bounds.most}
        changed = slot.model_copy(update=changes)
        slots = [changed if one is slot else one for one in scene.slots]
        if self.to is not None:
            slots.remove(changed)
            slots.insert(min(self.to, len(slots)), changed)
        return with_slots(scene, tuple(slots))

    def words(self, scene: Scene) -> str:
        return f"Changed the slot {_name(scene, self.slot)}"

    def target(self) -> tuple[object, ...]:
        return self.slot, self.name, self.bounds, self.to


class RemoveSlot(Edit):
    """Remove a slot, or only one of the parts that it fills: by its layer, and its path in the document. What is in
    them stays; rows of the table keep what was typed until they are changed."""

    takes_items: ClassVar[bool] = False

    edit: Literal["remove_slot"] = "remove_slot"
    slot: Id
    place: Place | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        slot = slot_of(scene, self.slot)
        left = tuple(one for one in slot.places if one != self.place) if self.place is not None else ()
        kept = slot.model_copy(update={"places": left}) if left else None
        slots = tuple(kept if one is slot else one for one in scene.slots)
        return with_slots(scene, tuple(one for one in slots if one is not None))

    def words(self, scene: Scene) -> str:
        return f"Removed the slot {_name(scene, self.slot)}"


class FillSlots(Edit):
    """Fill slots of the scene: what their parts hold from now on; or with a `layer`, those of the scene that it shows,
    for this layer alone, where null is as in that scene. Locked layers are filled as well: slots are there for that."""

    takes_items: ClassVar[bool] = False

    class Given(Model):
        """A slot and what fills it."""

        slot: Id
        value: SlotValue | None

    edit: Literal["fill_slots"] = "fill_slots"
    fills: Annotated[tuple[Given, ...], Field(min_length=1, max_length=MOST_SLOTS)]
    layer: WholeLayer | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for given in self.fills:
            if self.layer is not None:
                scene = self._inner(scene, scene.layer(self.layer), given, context)
                continue
            slot = slot_of(scene, given.slot)
            if given.value is None:
                raise Refused(f"{slot.name} of the scene itself always has a value.", where="value")
            self._refuse_missing(slot, given.value, scene, context)
            scene = with_value(scene, slot, given.value, context.assets)
        return scene

    def _inner(self, scene: Scene, layer: Layer, given: Given, context: EditContext) -> Scene:
        if not layer.content.scenes:
            raise Refused(f"'{layer.name}' shows no scene.", where="layer", mend="Choose a layer that shows one.")
        inner = context.assets.scene(layer.content.scenes[0])
        slot = slot_of(inner, given.slot)
        holder = holder_of(inner, slot, context.assets)
        value = given.value
        if value is not None:
            self._refuse_missing(slot, value, inner, context)
            value = holder.kind.checked(value, slot, holder.layer, holder.path)
            with_value(
                inner, slot, value, context.assets
            )  # refused here, since a scene is shown without what it refuses
        return scene.with_layer(with_fill(layer, slot.id, value, holder.kind.medium))

    def _refuse_missing(self, slot: Slot, value: SlotValue, scene: Scene, context: EditContext) -> None:
        """Refuse a medium that the project has not."""
        kind = holder_of(scene, slot, context.assets).kind
        known = {"picture": context.assets.pictures, "clip": context.assets.clips, "sound": context.assets.clips}
        if kind.medium in known and value not in known[kind.medium]:
            raise Refused(
                f"{slot.name} takes a {kind.medium} of the project, and that one is not there.", where="value",
                mend=f"Add the {kind.medium} again.",
            )  # fmt: skip

    def words(self, scene: Scene) -> str:
        if self.layer is not None:
            return f"Filled {_count(len(self.fills))} of {name_of(scene, self.layer)}"
        return f"Filled {_name(scene, self.fills[0].slot) if len(self.fills) == 1 else _count(len(self.fills))}"

    def target(self) -> tuple[object, ...]:
        return self.layer, tuple(one.slot for one in self.fills)


def _count(count: int) -> str:
    return "1 slot" if count == 1 else f"{count} slots"


def _name(scene: Scene, slot_id: str) -> str:
    return next((one.name for one in scene.slots if one.id == slot_id), "a slot")


def _label(scene: Scene, address: str, path: str) -> str:
    try:
        layer = item_layer(scene, address)
    except Refused:
        return label_of(path)
    return f"{PLAIN.get(path) or label_of(path, layer).lower()} of {layer.name}"


PLAIN = {"visible": "whether it is shown", "span.length": "the length", "content.font.family": "the font"}
"""What parts without a label of their own are called."""


def _found(scene: Scene, address: str, path: str) -> tuple[Scene, Layer, str]:
    """The layer in which a property of a layer or a shape lies, and its path there; a shape that has no motion of its
    own yet gets it, and looks as it does."""
    layer_id = address.split("/")[0]
    layer = scene.layer(layer_id)
    if address == layer_id:
        return scene, layer, path
    outer = outer_path(scene, address, path)
    if ".transform." in outer and outer not in layer.tracks:
        stem = outer.split(".transform.")[0]
        made = transform_of(item_layer(scene, address))
        of_mask = split_address(address)[0].endswith("@")
        layer = with_part(layer, f"{stem}.transform", _of_mask(made) if of_mask else made)
        scene = scene.with_layer(layer)
    return scene, layer, outer


def _of_mask(made: Model) -> Model:
    """The same motion as that of a mask."""
    return MaskTransform.model_validate({name: getattr(made, name) for name in MaskTransform.model_fields})


def with_slots(scene: Scene, slots: tuple[Slot, ...]) -> Scene:
    """The scene with these slots; Refused in words where two have one name, or there are too many."""
    try:
        checked_slots(slots)
    except ValidationError as error:
        raise refusal_of(error, "slots") from None
    except ValueError as error:
        raise Refused(f"{str(error)[0].upper()}{str(error)[1:]}.", where="name") from None
    if len(slots) > MOST_SLOTS:
        raise Refused(f"A scene has at most {MOST_SLOTS} slots.", mend="Have one slot fill several properties.")
    changed = scene.model_copy(update={"slots": slots})
    if scene.lies_in is not None:
        changed.__dict__["_lies_in"] = scene.lies_in
    return changed


def _also(scene: Scene, slot: Slot, place: Place, kind: SlotKind, context: EditContext) -> Scene:
    """The scene with one more part that a slot fills, which holds from now on what the others hold."""
    holder = holder_of(scene, slot, context.assets)
    if holder.kind.name != kind.name:
        raise Refused(
            f"The slot '{slot.name}' holds a {holder.kind.name}, and this is a {kind.name}.", where="slot",
            mend="Make a slot of its own of it.",
        )  # fmt: skip
    if len(slot.places) >= MOST_PLACES:
        raise Refused(f"A slot fills at most {MOST_PLACES} properties.", where="slot")
    wider = slot.model_copy(update={"places": (*slot.places, place)})
    scene = with_slots(scene, tuple(wider if one is slot else one for one in scene.slots))
    return with_value(scene, wider, holder.value, context.assets)


def _own_name(layer: Layer, path: str, kind: SlotKind) -> str:
    """What a slot of a part is called by itself."""
    if isinstance(kind, InnerSlot):
        return kind.slot.name
    if kind.name in NAMED_AS_ITS_LAYER:
        return layer.name[:100]
    what = {"visible": "shown", "span.length": "length", "content.font.family": "font"}.get(path)
    return f"{layer.name[:100]} {what or label_of(path, layer)[:90].lower()}"


def _free(scene: Scene, wanted: str) -> str:
    taken = {one.name.casefold(): one.name for one in scene.slots}
    found = free_among(taken, wanted.casefold())
    return wanted if found == wanted.casefold() else free_among(set(taken.values()) | {wanted}, wanted)
