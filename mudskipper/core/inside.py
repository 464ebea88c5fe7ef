"""A layer's items as layers of a scene of their own, and back: what is done to layers is done to items by it.

An item is addressed as `layer/2`, one within a group as `layer/2/0`: its layer and the ids on the way to it, which stay
with the items when others come and go. What it lies in, its *parent*, is a layer or a group; the inner scene's pixels
are the parent's own.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from .base_model import MOST_NAME
from .bezier import Floats
from .errors import Refused
from .motion import anchor_points, position_values
from .resolved_layer import ResolvedLayer, content_values
from .shapes import Group, Item, ItemTransform
from .shapes.several import Placed, inner_items, joined, placed
from .shapes.values import within
from .transform import multiply

if TYPE_CHECKING:
    from .contents.base import Around
    from .context import Context
    from .scene import Layer, Scene


def split_address(address: str) -> tuple[str, str]:
    """What an item lies in, and its id there; an empty first part for a layer.

    >>> split_address("claw/2/0"), split_address("claw")
    (('claw/2', '0'), ('', 'claw'))
    """
    parent, _, key = address.rpartition("/")
    return parent, key


Hold = Callable[["Scene", "Layer", "Layer"], "Layer"]
"""A scene, one of its layers before and after a change within: the layer to keep."""


@dataclass(frozen=True)
class Inside:
    """The inner scene of a parent: `scene`, whose layers have the ids of the items that they stand for.

    Frames, spans and sizes are those of the outer scene.
    """

    outer: Scene
    parent: str
    layer: Layer
    """The parent as a layer: itself, or the group as one."""
    scene: Scene

    def put_back(self, changed: Scene, hold: Hold) -> Scene:
        """The outer scene with the parent's items as the layers of the inner scene stand now; `hold` keeps the picture
        of what they lie in where it was (`held_picture`)."""
        if not changed.layers:
            raise Refused(
                f"'{self.layer.name}' holds at least one shape.", mend="Delete the whole layer or group instead."
            )
        same = {id(layer) for layer in self.scene.layers}
        items = tuple(self.item(layer.id) if id(layer) in same else self._changed(layer) for layer in changed.layers)
        return self.with_items(items, hold)

    def item(self, key: str) -> Item:
        """The item of an id."""
        item: Item = self.layer.content.items[self.scene.places[key]]
        return item

    def _changed(self, layer: Layer) -> Item:
        """A layer of the inner scene as an item; Refused in words where it is more than an item can be."""
        items = getattr(layer.content, "items", None)
        if items is None:
            raise Refused("Only shapes stand within a shape layer.", mend="Add it as a layer of its own.")
        known = layer.id in self.scene.places
        model = self.scene.layer(layer.id) if known else self.scene.layers[0]
        if any(getattr(layer, name) != getattr(model, name) for name in ("locked", "span", "blend", "variants")):
            raise Refused(
                f"'{layer.name}' is a shape within a layer: its span, blend, lock and variants are those of the layer.",
                mend="Change the layer that it lies in.",
            )
        own = {
            # Whatever is new here gets an id as it is laid beside the others.
            "id": layer.id if known else "",
            "name": self._name(layer, known), "visible": layer.visible, "transform": self._transform(layer, known),
        }  # fmt: skip
        group = known and isinstance(self.item(layer.id), Group)
        if len(items) == 1 and items[0].transform is None and not isinstance(items[0], Group) and not group:
            shape: Item = items[0].model_copy(update=own)
            return shape
        return Group(items=items, **own)

    def _transform(self, layer: Layer, known: bool) -> ItemTransform | None:
        """The transform to keep: none where the item had none, and only something else was changed."""
        was = self.item(layer.id) if known else None
        if was is not None and was.transform is None:
            rest = was.at_rest
            if all(getattr(layer, name) is getattr(rest, name) for name in ItemTransform.model_fields):
                return None
        return transform_of(layer)

    def _name(self, layer: Layer, known: bool) -> str:
        """The name to keep: none where it is still called after its kind and number."""
        unnamed = known and not self.item(layer.id).name and layer.name == self.scene.layer(layer.id).name
        return "" if unnamed else layer.name[:MOST_NAME]

    def with_items(self, items: tuple[Item, ...], hold: Hold) -> Scene:
        """The outer scene with the parent's items replaced, and what they lie in held where it was."""
        content = type(self.layer.content).model_validate({"kind": "shape", "items": items})
        after = self.layer.model_copy(update={"content": content})
        above, key = split_address(self.parent)
        if not above:
            return self.outer.with_layer(hold(self.outer, self.layer, after))
        around = inside(self.outer, above)
        group, place = around.item(key), around.scene.places[key]
        # A group without a transform has no anchor to be held at, and gets none.
        changed = group.model_copy(update={"items": content.items})
        if group.transform is not None:
            was = around.scene.layers[place]
            kept = hold(around.scene, was, was.model_copy(update={"content": content}))
            changed = changed.model_copy(update={"transform": transform_of(kept)})
        siblings = list(around.layer.content.items)
        siblings[place] = changed
        return around.with_items(tuple(siblings), hold)


def transform_of(layer: Layer) -> ItemTransform:
    """The motion of an item as a layer, as its transform."""
    return ItemTransform.model_validate({name: getattr(layer, name) for name in ItemTransform.model_fields})


def inside(scene: Scene, parent: str) -> Inside:
    """The inner scene of a layer or of a group within one; Refused in words where it is gone or has no items."""
    above, key = split_address(parent)
    layer = item_layer(scene, parent) if above else scene.layer(key)
    items = getattr(layer.content, "items", None)
    if above and not isinstance(inside(scene, above).item(key), Group):
        raise Refused(f"'{layer.name}' is a shape; only groups hold shapes.", mend="Group it first.")
    if items is None:
        raise Refused(f"'{layer.name}' is no shape layer; only those hold shapes.", mend="Choose a shape layer.")
    layers = tuple(as_layer(layer, index) for index in range(len(items)))
    inner = scene.model_copy(update={"id": layer.id.replace("/", "-")[:64], "name": layer.name, "layers": layers})
    return Inside(scene, parent, layer, inner)


def item_layer(scene: Scene, address: str) -> Layer:
    """An item as a layer whose id is its address; or a layer itself. Refused in words where it is gone."""
    parent, key = split_address(address)
    if not parent:
        return scene.layer(key)
    found = inside(scene, parent)
    if key not in found.scene.places:
        raise Refused(
            f"There is no shape {key} in '{found.layer.name}'; it may have been deleted in another window.",
            mend="Nothing was changed.",
        )
    layer: Layer = found.scene.layer(key).model_copy(update={"id": address})
    return layer


def located(scene: Scene, address: str) -> tuple[Scene, Layer]:
    """The scene in which an address is a layer, and that layer: the inner scene of what an item lies in."""
    parent, key = split_address(address)
    if not parent:
        return scene, scene.layer(key)
    item_layer(scene, address)
    found = inside(scene, parent).scene
    return found, found.layer(key)


def item_name(item: Item, index: int, count: int) -> str:
    """What an item is called: its name, or its kind, with its number where there are several.

    >>> from .shapes import Ellipse
    >>> item_name(Ellipse(size=(4.0, 4.0)), 1, 3)
    'Ellipse 2'
    """
    return item.name.strip() or (f"{item.label} {index + 1}" if count > 1 else item.label).capitalize()


def as_layer(parent: Layer, index: int) -> Layer:
    """One of a parent's items as a layer of the inner scene, its id the item's.

    An item without a transform becomes one that is placed by the middle of its box, as long as that rests; else its
    anchor is fixed at the origin.
    """
    items = parent.content.items
    item: Item = items[index]
    facts = (index, len(items), parent.locked, parent.span)
    known = item.__dict__.get("_layer")
    if known is not None and known[0] == facts:
        kept: Layer = known[1]
        return kept
    own = item.transform or item.at_rest
    bare = item.model_copy(update={"transform": None, "name": "", "visible": True})
    content = type(parent.content).model_construct(
        kind="shape", items=inner_items(item) if isinstance(item, Group) else (bare,)
    )
    made: Layer = type(parent).model_construct(
        id=item.id or str(index), name=item_name(item, index, len(items)), visible=item.visible, locked=parent.locked,
        span=parent.span, blend="normal", content=content, anchor=own.anchor, position=own.position, scale=own.scale,
        rotation=own.rotation, opacity=own.opacity, variant="A", variants=(), unchecked=(), mask=None, framing=None,
        filters=(),
    )  # fmt: skip
    # Items are frozen, and a copy that is changed keeps nothing of this.
    item.__dict__["_layer"] = facts, made
    return made


def items_resolved(resolved: ResolvedLayer, around: Around, address: str = "") -> dict[str, ResolvedLayer]:
    """Every item of a resolved layer as a resolved layer by its address, at any depth; matrices lead to the scene."""
    address = address or resolved.layer.id
    items: tuple[Item, ...] = getattr(resolved.layer.content, "items", ())
    if not items:
        return {}
    # A shape alone is what its layer is: nothing of it is computed again.
    alone = len(items) == 1 and items[0].transform is None
    own = content_values(resolved.values)
    each = [Placed(items[0], within(own, "items.0."), resolved.box)] if alone else placed(items, own)
    found: dict[str, ResolvedLayer] = {}
    for index, (one, matrix) in enumerate(zip(each, _to_scene(each, resolved.matrix), strict=True)):
        key, values = f"{address}/{one.item.id or index}", _as_layer_values(one)
        transform = one.item.transform or one.item.at_rest
        anchor, fraction = anchor_points(transform.anchor.pinned, values["anchor"], one.box)
        here = found[key] = ResolvedLayer(
            layer=as_layer(resolved.layer, index), frames=resolved.frames,
            visible=resolved.visible if one.item.visible else np.zeros_like(resolved.visible), values=values,
            box=one.box, anchor=anchor, fraction=fraction, matrix=matrix, opacity=values["opacity"] / 100.0,
        )  # fmt: skip
        if isinstance(one.item, Group):
            found |= items_resolved(here, around, key)
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
        path.removeprefix("transform.") if path.startswith("transform.") else f"{inside_of}.{path}": array
        for path, array in one.values.items()
    }
    if one.item.transform is None:
        found |= {name: getattr(one.item.at_rest, name).rest_array[None, :] for name in ItemTransform.model_fields}
    found["position"] = position_values(found)
    return found


def parent_matrix(scene: Scene, parent: str, frame: float, context: Context) -> Floats:
    """The matrix (6,) that takes the pixels of a parent to the scene at a frame."""
    name, *places = parent.split("/")
    resolved = context.one(scene.layer(name), frame)
    if not places:
        return np.asarray(resolved.matrix[0])
    items = items_resolved(resolved, context.around(resolved.layer, resolved.frames))
    if parent not in items:
        item_layer(scene, parent)
    return np.asarray(items[parent].matrix[0])
