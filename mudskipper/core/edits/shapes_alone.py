"""Shapes of layers as layers of their own, that look and move as they did: what is copied of them to other scenes."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ..contents.assets import Assets
from ..document.items_as_layers import MASKS
from ..document.scene import Layer, Scene
from ..ground.base_model import MOST_NAME
from ..ground.errors import Refused
from ..shapes import Group, Item
from .base import EditContext
from .layers import DeleteLayers
from .move_anchor import PinAnchor
from .of_items import applied


def shapes_alone(scene: Scene, addresses: Iterable[str], assets: Assets) -> tuple[Layer, ...]:
    """Layers, and of each layer of which shapes are named one with those alone, back to front; Refused in words where
    one is not there, or is a mask."""
    wanted = set(addresses)
    if any(MASKS in one.split("/") for one in wanted):
        raise Refused("Masks are not copied by themselves.", where="layers", mend="Select shapes, or whole layers.")
    found: list[Layer] = []
    left = set(wanted)
    for layer in scene.layers:
        if layer.id in wanted:
            found.append(layer)
            left -= {one for one in left if one.split("/")[0] == layer.id}
            continue
        mine = {one for one in wanted if one.startswith(f"{layer.id}/")}
        items: Any = getattr(layer.content, "items", None)
        if not mine or items is None:
            continue
        others, met = _others(items, layer.id, mine)
        left -= met
        if met:
            alone = _alone(scene, layer, mine, others, assets)
            inner: Any = alone.content
            one = inner.items[0].name if len(inner.items) == 1 else ""
            found.append(alone.model_copy(update={"name": (one or layer.name)[:MOST_NAME]}))
    if left:
        raise Refused("A shape named here is gone; it may have been deleted in another window.", where="layers")
    return tuple(found)


def _alone(scene: Scene, layer: Layer, wanted: set[str], others: list[list[str]], assets: Assets) -> Layer:
    """The layer without its other shapes: first its anchor and those of the groups above what is wanted are fixed in
    pixels, since their boxes become others."""
    context = EditContext(assets)
    scene = scene.with_layer(layer.model_copy(update={"locked": False}))
    above = {"/".join(one.split("/")[:depth]) for one in wanted for depth in range(1, one.count("/") + 1)}
    for address in sorted(above):
        if address == layer.id or _is_pinned(scene.layer(layer.id), address):
            scene, _ = applied(PinAnchor(layer=address, pinned=False), scene, context)
    for addresses in others:
        scene, _ = applied(DeleteLayers(layers=tuple(addresses)), scene, context)
    return scene.layer(layer.id)


def _is_pinned(layer: Layer, address: str) -> bool:
    """Whether a group has an anchor of its own that is pinned to its box."""
    content: Any = layer.content
    items, group = content.items, None
    for key in address.split("/")[1:]:
        group = next((one for one in items if one.id == key), None)
        items = getattr(group, "items", ())
    return group is not None and group.transform is not None and group.transform.anchor.pinned


def _others(items: Iterable[Item], above: str, wanted: set[str]) -> tuple[list[list[str]], set[str]]:
    """The shapes that are not wanted, nor hold one that is, those of each parent together; and what was met."""
    others: list[str] = []
    within: list[list[str]] = []
    met: set[str] = set()
    for item in items:
        address = f"{above}/{item.id}"
        mine = {one for one in wanted if one == address or one.startswith(f"{address}/")}
        if address in mine:
            met |= mine
        elif mine and isinstance(item, Group):
            more, found = _others(item.items, address, mine)
            within += more
            met |= found
        else:
            others.append(address)
    return [*within, *([others] if others else [])], met
