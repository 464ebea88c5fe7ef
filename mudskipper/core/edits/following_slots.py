"""Slots that go along with what they fill: into a group, into a scene of its own and out of it, with a part cut off."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from ..document.places import BY_ID, part_at, path_now, steady_path
from ..document.scene import Layer, Scene
from ..document.slots import MOST_PLACES, Place, Slot
from ..slots.inner import INNER
from ..tracks.base import Track
from .slots import with_slots


def followed(before: Scene, after: Scene) -> Scene:
    """The scene after an edit, with the slots at properties that the edit put elsewhere in their layer: what stands in
    a path by its number, or came into a group or out of one."""
    if not after.slots or after.layers is before.layers:
        return after

    def moved(place: Place) -> Place:
        was = before.layer(place.layer) if place.layer in before.places else None
        now = after.layer(place.layer) if place.layer in after.places else None
        if was is None or now is None or was is now or INNER.fullmatch(place.path):
            return place
        old, path = path_now(was, place.path), path_now(now, place.path)
        part = part_at(was, old) if old else None
        if not isinstance(part, Track) or (path is not None and part_at(now, path) is part):
            return place
        # Of copies that share it none is meant more than another.
        if sum(track is part for track in was.tracks.values()) != 1:
            return place
        found = [one for one, track in now.tracks.items() if track is part]
        return Place(layer=now.id, path=steady_path(now, found[0])) if len(found) == 1 else place

    return _placed(after, moved)


def _placed(scene: Scene, moved: Callable[[Place], Place]) -> Scene:
    """The scene with places of its slots moved; the same one where none is."""
    slots = tuple(_with_places(slot, tuple(map(moved, slot.places))) for slot in scene.slots)
    return scene if all(a is b for a, b in zip(slots, scene.slots, strict=True)) else with_slots(scene, slots)


def _with_places(slot: Slot, places: tuple[Place, ...]) -> Slot:
    return slot if places == slot.places else slot.model_copy(update={"places": tuple(dict.fromkeys(places))})


def with_part_cut_off(scene: Scene, head: str, tail: str) -> Scene:
    """The scene of which a layer was cut in two: its slots fill both parts; not its length, which each has for
    itself."""

    def both(slot: Slot) -> Slot:
        more = [
            Place(layer=tail, path=one.path) for one in slot.places if one.layer == head and one.path != "span.length"
        ]
        return _with_places(slot, (*slot.places, *more)[:MOST_PLACES]) if more else slot

    slots = tuple(map(both, scene.slots))
    return with_slots(scene, slots) if slots != scene.slots else scene


def put_along(outer: Scene, inner: Scene, layer: Layer) -> tuple[Scene, Scene]:
    """A scene whose layers went into another one that `layer` shows in their place, and that one: the slots that fill
    them are that one's, and those of the outer one fill these."""
    gone = {one.id for one in inner.layers}
    mine = [(slot, [one for one in slot.places if one.layer in gone]) for slot in outer.slots]
    own = tuple(slot.model_copy(update={"places": tuple(places)}) for slot, places in mine if places)
    if not own:
        return outer, inner
    slots = tuple(
        _with_places(
            slot,
            (*(one for one in slot.places if one not in places),
             *([Place(layer=layer.id, path=f"content.fills.{BY_ID}{slot.id}")] if places else [])),
        )
        for slot, places in mine
    )  # fmt: skip
    return with_slots(outer, slots), with_slots(inner, own)


def brought_out(scene: Scene, gone: str, inner: Scene, ids: Mapping[str, str]) -> Scene:
    """The scene in which a layer that showed another was taken apart: slots that filled slots of that one fill the
    layers that came out of it, by their new ids."""
    of = {slot.id: slot for slot in inner.slots}

    def placed(slot: Slot) -> Slot:
        found: list[Place] = []
        for one in slot.places:
            told = INNER.fullmatch(one.path) if one.layer == gone else None
            if told is None:
                found.append(one)
            elif told[1] in of:
                found += [
                    Place(layer=ids[place.layer], path=place.path)
                    for place in of[told[1]].places
                    if ids.get(place.layer) in scene.places
                ]
        return _with_places(slot, tuple(found[:MOST_PLACES]) or slot.places)

    slots = tuple(map(placed, scene.slots))
    return with_slots(scene, slots) if slots != scene.slots else scene
