"""A scene after edits, looked at where it changed: one that could not be read again is refused."""

from __future__ import annotations

from functools import cache
from typing import Any, get_type_hints

from pydantic import TypeAdapter, ValidationError

from ..ground.base_model import MOST_NAME, Model
from ..ground.errors import Refused, refusal_of
from .scene import Scene

MOST_LAYERS = 5_000
MOST_KEYS_IN_ALL = 500_000


@cache
def _adapters(model: type[Model]) -> dict[str, TypeAdapter[Any]]:
    """What validates each field of a model on its own."""
    hints = get_type_hints(model, include_extras=True)
    return {name: TypeAdapter(hints[name]) for name in model.model_fields}


def verified(before: Scene, after: Scene) -> Scene:
    """The scene after edits, Refused in words where it is one that could not be read again.

    Only what is another object than before is looked at: an edit of one track of one layer costs one track.
    """
    _verify(before, after, "Scene")
    if after.layers is before.layers:
        return after
    if len(after.layers) > MOST_LAYERS:
        raise Refused(
            f"A scene holds at most {MOST_LAYERS:,} layers, and this would make {len(after.layers):,}.",
            mend="Nothing was changed. Divide the work between two scenes.",
        )
    if len(after.places) < len(after.layers):
        raise Refused("Two layers would have the same id; every layer needs its own.", mend="Nothing was changed.")
    old = {layer.id: layer for layer in before.layers}
    more = 0
    for layer in after.layers:
        known = old.get(layer.id)
        if known is not layer:
            _verify(known, layer, layer.name[:MOST_NAME])
            more += layer.key_count - (known.key_count if known else 0)
    # Those of the others are counted only where there are more keys than before.
    keys = sum(layer.key_count for layer in after.layers) if more > 0 else 0
    if keys > MOST_KEYS_IN_ALL:
        raise Refused(
            f"A scene holds at most {MOST_KEYS_IN_ALL:,} keys in all, and this would make {keys:,}.",
            mend="Nothing was changed. Divide the work between two scenes.",
        )
    return after


def _verify(before: Model | None, after: Model, subject: str) -> None:
    for name, adapter in _adapters(type(after)).items():
        if name == "layers":
            continue  # each is looked at by itself
        value = getattr(after, name)
        if before is not None and getattr(before, name) is value:
            continue
        try:
            adapter.validate_python(plain_of(value, getattr(before, name, None)))
        except ValidationError as error:
            raise refusal_of(error, f"{name.replace('_', ' ').capitalize()} of '{subject}'") from None


def plain_of(value: Any, before: Any = None) -> Any:
    """A part of the document as the plain data it is written as, but for what it has in common with the part `before`
    it: that was looked at when it came, and of a layer of 5,000 shapes the one that changed is looked at alone."""
    if value is before:
        return value
    if isinstance(value, Model):
        if type(before) is not type(value):
            return value.model_dump(by_alias=True)
        fields = type(value).model_fields.items()
        return {about.alias or name: plain_of(getattr(value, name), getattr(before, name)) for name, about in fields}
    if isinstance(value, tuple):
        old = before if isinstance(before, tuple) else ()
        known = {id(part) for part in old if isinstance(part, Model)}
        beside = old if len(old) == len(value) else (None,) * len(value)
        return tuple(
            part if id(part) in known else plain_of(part, one) for part, one in zip(value, beside, strict=True)
        )
    return value
