"""What lies in a resolved layer, as resolved layers by address: its items and masks, at any depth."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ..document.items_as_layers import MASKS, as_layer, item_layer, mask_layer, split_address
from ..document.scene import Scene
from ..geometry.bezier import Floats
from ..geometry.transform import multiply
from ..geometry.values import within
from ..shapes import Group, Item
from ..shapes.masked import mask_matrix
from ..shapes.several import Placed, joined, placed, resting
from ..tracks.motion import anchor_points, position_values
from .context import Context
from .layers import ResolvedLayer
from .place import content_values

if TYPE_CHECKING:
    from ..contents.base import Around

OWN = ("transform.", "masks.", "effects.")
"""How the paths begin that an item has as a layer, too."""


def items_resolved(
    resolved: ResolvedLayer, around: Around | None = None, address: str = ""
) -> dict[str, ResolvedLayer]:
    """Every item of a resolved layer as a resolved layer by its address, at any depth; matrices lead to the scene."""
    address = address or resolved.layer.id
    found = _masks_resolved(resolved, address)
    items: tuple[Item, ...] = getattr(resolved.layer.content, "items", ())
    if not items:
        return found
    # A shape alone is what its layer is: nothing of it is computed again.
    alone = len(items) == 1 and items[0].transform is None and items[0].repeat is None
    own = content_values(resolved.values)
    each = [Placed(items[0], within(own, "items.0."), resolved.content_box)] if alone else placed(items, own)
    for index, (one, matrix) in enumerate(zip(each, _to_scene(each, resolved.content_matrix), strict=True)):
        key, values = f"{address}/{one.item.id or index}", _as_layer_values(one)
        transform = one.item.transform or one.item.at_rest
        anchor, fraction = anchor_points(transform.anchor.pinned, values["anchor"], one.box)
        here = found[key] = ResolvedLayer(
            layer=as_layer(resolved.layer, index), frames=resolved.frames,
            visible=resolved.visible if one.item.visible else np.zeros_like(resolved.visible), values=values,
            box=one.box, anchor=anchor, fraction=fraction, matrix=matrix, opacity=values["opacity"] / 100.0,
            content_box=one.box,
        )  # fmt: skip
        if isinstance(one.item, Group):
            found |= items_resolved(here, around, key)
    return found


def _masks_resolved(resolved: ResolvedLayer, address: str) -> dict[str, ResolvedLayer]:
    """Every mask of a resolved layer as a resolved layer by its address."""
    found: dict[str, ResolvedLayer] = {}
    for index, mask in enumerate(resolved.layer.masks):
        own = within(resolved.values, f"masks.{index}.")
        values = {f"content.items.0.{name}": array for name, array in within(own, "shape.").items()}
        values |= within(own, "transform.") if mask.transform else resting(mask.at_rest)
        values["position"] = position_values(values)
        box, matrix = mask.shape.box(within(own, "shape.")), mask_matrix(mask, own)
        anchor, fraction = anchor_points((mask.transform or mask.at_rest).anchor.pinned, values["anchor"], box)
        found[f"{address}/{MASKS}/{mask.id or index}"] = ResolvedLayer(
            layer=mask_layer(resolved.layer, index), frames=resolved.frames,
            visible=resolved.visible if mask.visible else np.zeros_like(resolved.visible), values=values, box=box,
            anchor=anchor, fraction=fraction, opacity=values["opacity"] / 100.0, content_box=box,
            matrix=resolved.matrix if matrix is None else multiply(resolved.matrix, matrix),
        )  # fmt: skip
    return found


def _to_scene(each: list[Placed], outer: Floats) -> list[Floats]:
    """The matrix of each item to the scene, from that of what they lie in, which it is where it has none of its own."""
    own = [one.matrix for one in each if one.matrix is not None]
    sizes = [max(len(outer), len(matrix)) for matrix in own]
    if not own:
        return [outer] * len(each)
    whole = multiply(joined([outer] * len(own), sizes), joined(own, sizes))
    moving = iter(np.split(whole, np.cumsum(sizes)[:-1]))
    return [outer if one.matrix is None else next(moving) for one in each]


def _as_layer_values(one: Placed) -> dict[str, Floats]:
    """The values of an item's tracks by the paths that they have in it as a layer."""
    inside_of = "content" if isinstance(one.item, Group) else "content.items.0"
    found = {
        path.removeprefix("transform.") if path.startswith(OWN) else f"{inside_of}.{path}": array
        for path, array in one.values.items()
    }
    if one.item.transform is None:
        found |= resting(one.item.at_rest)
    found["position"] = position_values(found)
    return found


def parent_matrix(scene: Scene, parent: str, frame: float, context: Context) -> Floats:
    """The matrix (6,) that takes the pixels of a parent, or of what masks lie on, to the scene at a frame."""
    of_masks = parent.endswith(f"/{MASKS}")
    owner = split_address(parent)[0] if of_masks else parent
    name, *places = owner.split("/")
    resolved = context.one(scene.layer(name), frame)
    if not places:
        return np.asarray((resolved.matrix if of_masks else resolved.content_matrix)[0])
    items = items_resolved(resolved, context.around(resolved.layer, resolved.frames))
    if owner not in items:
        item_layer(scene, owner)
    return np.asarray(items[owner].matrix[0])
