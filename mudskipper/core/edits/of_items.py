"""Edits of items: any edit of layers made in the inner scene of what the items lie in."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..base_model import Model
from ..errors import Refused
from ..held_picture import held
from ..inside import Hold, Inside, inside, item_layer, split_address
from ..items_resolved import parent_matrix
from ..scene import Layer, Scene
from ..shapes.several import all_items
from ..tracks import Track
from .base import Edit, EditContext, View
from .formula_notices import formula_notices

NAMING = ("layer", "layers")
"""The fields in which edits name layers."""


def parent_of(edit: Edit) -> str:
    """What the items that an edit is made of lie in; empty where it is made of layers."""
    into = getattr(edit, "into", None)
    parents = {split_address(name)[0] for name in _named(edit)} | ({into} if into else set())
    if len(parents) > 1:
        raise Refused(
            "Shapes can be changed together only where they lie in one layer or group.",
            mend="Choose shapes of one layer or group.",
        )
    return next(iter(parents), "")


def applied(edit: Edit, scene: Scene, context: EditContext) -> tuple[Scene, str]:
    """The scene after an edit, and its words; Refused in words, with nothing changed."""
    if edit.takes_addresses or not (parent := parent_of(edit)):
        return _made(edit, scene, context), edit.words(scene)
    found = inside(scene, parent)
    for name in _named(edit):
        item_layer(scene, name)
    inner = _inner(edit, found, context)
    words: str = _stripped(edit).words(found.scene)
    return found.put_back(_made(inner, found.scene, context), holding(context)), words


def _made(edit: Edit, scene: Scene, context: EditContext) -> Scene:
    """The scene after an edit, with each layer whose window or patterns were changed held where it was."""
    after = edit.apply(scene, context)
    if after.layers is scene.layers:
        return after
    if not edit.sets_formulas:
        for said in formula_notices(scene, after, layers_alone=edit.takes_addresses):
            if said not in context.notices:
                context.notices.append(said)
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
    """A part of a document with its tracks as their values alone."""
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
        if before.anchor.formula and not kept.anchor.formula:
            said = f"{said} Its formula was written as keys.".strip()
        if said and said not in context.notices:
            context.notices.append(said)
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


def _named(value: Any) -> Iterator[str]:
    """The layers and items that a part of an edit names."""
    for name in type(value).model_fields:
        part = getattr(value, name)
        if name in NAMING:
            yield from (part,) if isinstance(part, str) else part or ()
        elif isinstance(part, tuple) and part and isinstance(part[0], Model) and "layer" in type(part[0]).model_fields:
            for one in part:
                yield from _named(one)


def _stripped(value: Any) -> Any:
    """A part of an edit in which items are named by their places alone."""
    changed: dict[str, Any] = {}
    for name in type(value).model_fields:
        part = getattr(value, name)
        if name in NAMING and part is not None:
            changed[name] = (
                split_address(part)[1] if isinstance(part, str) else tuple(split_address(one)[1] for one in part)
            )
        elif isinstance(part, tuple) and part and isinstance(part[0], Model) and "layer" in type(part[0]).model_fields:
            changed[name] = tuple(_stripped(one) for one in part)
    return value.model_copy(update=changed)
