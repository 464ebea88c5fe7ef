"""Layers that are the parts of one shot: the same content, one after another."""

from __future__ import annotations

from typing import Any

from ..document.scene import Layer, Scene


def parts_of_shot(scene: Scene, layer: Layer) -> list[Layer]:
    """The layers that show what a layer shows, carried and framed as it is, and follow one another in time without a
    gap up to it and from it on; without it itself, earliest first."""
    what = _shown(layer)
    like = [one for one in scene.layers if one is not layer and one.content.kind == layer.content.kind]
    others = [one for one in like if _shown(one) == what]
    found: list[Layer] = []
    first, end = layer.span.start, layer.span.end
    while before := next((one for one in others if one.span.end == first and one not in found), None):
        found.insert(0, before)
        first = before.span.start
    while after := next((one for one in others if one.span.start == end and one not in found), None):
        found.append(after)
        end = after.span.end
    return found


def parts_of_one_shot(one: Layer, other: Layer) -> bool:
    """Whether two layers show the same, carried and framed as one."""
    return one.content.kind == other.content.kind and bool(_shown(one) == _shown(other))


def _shown(layer: Layer) -> Any:
    """What of a layer is alike in all parts of a shot: what it shows, but not which moments of it."""
    return layer.content.model_dump(exclude={"time", "sound"}), layer.carrier
