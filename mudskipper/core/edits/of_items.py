"""Edits of items: any edit of layers made in the inner scene of what the items lie in."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Any, get_args

from pydantic.fields import FieldInfo

from ..document.items_as_layers import Hold, Inside, inside, item_layer, split_address
from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..formulas.table import may_be_random
from ..ground.base_model import Model, Names
from ..ground.errors import Refused
from ..moves.held_picture import held
from ..resolve.formulas.scope import seed_of, seed_of_place
from ..resolve.items import parent_matrix
from ..shapes.several import all_items
from ..tracks.base import Track
from ..tracks.walk import models_in
from .base import Edit, EditContext, View
from .formula_notices import formula_notices, written_as_keys


def parent_of(edit: Edit) -> str:
    """What the items that an edit is made of lie in; empty where it is made of layers."""
    parents = {split_address(name)[0] for name in _named(edit)} | set(_named(edit, around=True))
    if len(parents) > 1:
        raise Refused(
            "Shapes can be changed together only where they lie in one layer or group.",
            mend="Choose shapes of one layer or group.",
        )
    return next(iter(parents), "")


def applied(edit: Edit, scene: Scene, context: EditContext) -> tuple[Scene, str]:
    """The scene after an edit, and its words; Refused in words, with nothing changed."""
    seeded = _with_seeds(scene, edit)
    if edit.takes_addresses or not (parent := parent_of(edit)):
        after = _made(edit, seeded, context)
        return (after if seeded is scene else _without_needless_seeds(scene, after)), edit.words(scene)
    found = inside(seeded, parent)
    for name in _named(edit):
        item_layer(scene, name)
    inner = _inner(edit, found, context)
    words: str = _stripped(edit).words(found.scene)
    after = found.put_back(_made(inner, found.scene, context), holding(context))
    return (after if seeded is scene else _without_needless_seeds(scene, after)), words


def _with_seeds(scene: Scene, edit: Edit) -> Scene:
    """The scene in which the random motion within the layers whose parts an edit moves starts from seeds of its own:
    else it starts from the places of its properties, and another motion would begin where these change."""
    named = {address.split("/")[0] for address in _named(edit) if edit.shifts_parts or "/" in address}
    for name in named & scene.places.keys():
        layer = scene.layer(name)
        for path in _at_random(layer):
            track = layer.tracks[path]
            if track.formula_seed is None:
                layer = with_part(layer, path, track.model_copy(update={"formula_seed": seed_of(layer, path)}))
        scene = scene if layer is scene.layer(name) else scene.with_layer(layer)
    return scene


def _without_needless_seeds(before: Scene, after: Scene) -> Scene:
    """The scene without the seeds that are those of the places at which they stand."""
    for layer in after.layers:
        was = layer if layer.id not in before.places else before.layer(layer.id)
        if was is layer:
            continue
        changed = layer
        for path in _at_random(layer):
            track = layer.tracks[path]
            if track.formula_seed == seed_of_place(layer, path):
                changed = with_part(changed, path, track.model_copy(update={"formula_seed": None}))
        after = after if changed is layer else after.with_layer(changed)
    return after


def _at_random(layer: Layer) -> list[str]:
    """The paths of what lies in a layer and moves at random."""
    return [
        path
        for path, text in layer.formulas.items()
        if path.startswith(("content.", "masks.", "effects.")) and may_be_random(text)
    ]


def _made(edit: Edit, scene: Scene, context: EditContext) -> Scene:
    """The scene after an edit, with each layer whose window or patterns were changed held where it was; once, so that
    an edit that holds what it changes by itself is not held again."""
    after = edit.apply(scene, context)
    if after.layers is scene.layers:
        return after
    if not edit.sets_formulas:
        for said in formula_notices(scene, after, layers_alone=edit.takes_addresses):
            if said not in context.notices:
                context.notices.append(said)
    if edit.takes_addresses:
        return after
    hold = holding(context)
    for layer in after.layers:
        place = scene.places.get(layer.id)
        was = layer if place is None else scene.layers[place]
        if was is not layer and _boxed(was) != _boxed(layer):
            after = after.with_layer(hold(scene, was, layer))
    return after


def _boxed(layer: Layer) -> Any:
    """The parts of a layer that change its box, but must not move it: its window, and the patterns in it. When their
    keys stand does not count: what moves in time moves all of the layer."""
    patterns = tuple(item.repeat for item in all_items(getattr(layer.content, "items", ())))
    return _timeless((layer.masks, layer.crop, layer.framing, patterns if any(patterns) else ()))


def _timeless(part: Any) -> Any:
    """A part of a document in which each track is reduced to its values."""
    if isinstance(part, Track):
        return part.rest, tuple(key.value for key in part.keys)
    if isinstance(part, tuple):
        return tuple(_timeless(one) for one in part)
    if isinstance(part, Model):
        return tuple(_timeless(getattr(part, name)) for name in type(part).model_fields)
    return part


def holding(context: EditContext) -> Hold:
    """What keeps the picture of a layer where it was while something in it is changed; it says so where it must."""

    def hold(scene: Scene, before: Layer, after: Layer) -> Layer:
        kept, said = held(before, after, context.of(scene))
        keyed = before.anchor.formula is not None and kept.anchor.formula is None
        for one in (said, written_as_keys(kept, ["anchor"]) if keyed else ""):
            if one and one not in context.notices:
                context.notices.append(one)
        return kept

    return hold


def words_of(edit: Edit, scene: Scene) -> str:
    """An edit in words, by the names in the scene before it."""
    if edit.takes_addresses or not (parent := parent_of(edit)):
        return edit.words(scene)
    words: str = _stripped(edit).words(inside(scene, parent).scene)
    return words


def _inner(edit: Edit, found: Inside, context: EditContext) -> Edit:
    """An edit of items as one of the layers of their inner scene."""
    if not edit.takes_items:
        raise Refused(
            f"This cannot be done to shapes within '{found.layer.name}'.", mend="Do it to the layer that they lie in."
        )
    frame = float(getattr(edit, "frame", found.layer.span.start))
    matrix = parent_matrix(found.outer, found.parent, frame, context.of(found.outer))
    stripped: Edit = _stripped(edit)
    return stripped.seen_inside(View(found.outer, found.layer, matrix))


@lru_cache(maxsize=1_024)
def _naming(kind: type[Model]) -> dict[str, Names | None]:
    """The fields of a part of an edit that name layers and items, by their annotations; None for those whose parts
    do."""
    found: dict[str, Names | None] = {}
    for name, field in kind.model_fields.items():
        names = _mark(field)
        if names is not None or any(_mark(inner) for one in models_in(field) for inner in one.model_fields.values()):
            found[name] = names
    return found


def _mark(annotation: Any) -> Names | None:
    """What the annotation of a field says that it names."""
    parts = (annotation.annotation, *annotation.metadata) if isinstance(annotation, FieldInfo) else get_args(annotation)
    marks = (part if isinstance(part, Names) else _mark(part) for part in parts)
    return next((mark for mark in marks if mark is not None), None)


def _named(value: Model, *, around: bool = False) -> Iterator[str]:
    """The layers and items that a part of an edit names, or what these lie in."""
    for name, names in _naming(type(value)).items():
        part = getattr(value, name)
        if names is None:
            for one in part or ():
                yield from _named(one, around=around)
        elif names.around == around and part is not None:
            yield from (part,) if isinstance(part, str) else part


def _stripped(value: Model) -> Any:
    """A part of an edit in which items are named by their places alone."""

    def own(part: Any, names: Names | None) -> Any:
        if isinstance(part, tuple):
            return tuple(own(one, names) for one in part)
        return _stripped(part) if names is None else split_address(part)[1]

    changed = {
        name: own(getattr(value, name), names)
        for name, names in _naming(type(value)).items()
        if getattr(value, name) is not None and not (names and names.around)
    }
    return value.model_copy(update=changed)
