"""A layer's items as layers of a scene of their own, and back: what is done to layers is done to items by it.

An item is addressed as `layer/2`, one within a group as `layer/2/0`: its layer and the ids on the way to it, which stay
with the items when others come and go. What it lies in, its *parent*, is a layer or a group; the inner scene's pixels
are the parent's own. A mask is addressed as `layer/@/0`, one of a group as `layer/2/@/0`; its parent is `layer/@`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from ..contents.shape import ShapeContent
from ..ground.base_model import MOST_NAME
from ..ground.errors import Refused
from ..ground.numbered import numbered
from ..shapes import Group, Item, ItemTransform
from ..shapes.masks import Mask, MaskTransform, unpainted
from ..shapes.several import inner_items

if TYPE_CHECKING:
    from .scene import Layer, Scene


MASKS = "@"
"""In an address, what stands before the id of a mask."""


def split_address(address: str) -> tuple[str, str]:
    """What an item lies in, and its id there; an empty first part for a layer.

    >>> split_address("claw/2/0"), split_address("claw")
    (('claw/2', '0'), ('', 'claw'))
    """
    parent, _, key = address.rpartition("/")
    return parent, key


_SAID = {"locked": "lock", "unchecked": "findings that are left", "variant": "variants"}
"""What is said of fields that layers alone have, where it is not their name."""
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

    @property
    def items(self) -> tuple[Item, ...]:
        """What lies in the parent."""
        items: tuple[Item, ...] = self.layer.content.items
        return items

    def item(self, key: str) -> Item:
        """The item of an id."""
        return self.items[self.scene.places[key]]

    def origin(self, layer: Layer) -> str:
        """The id of the part that a layer of the inner scene stands for, or is a copy of; empty for a new one."""
        if layer.id in self.scene.places:
            return layer.id
        return next((one.id for one in self.scene.layers if one.content is layer.content), "")

    def _changed(self, layer: Layer) -> Item:
        """A layer of the inner scene as an item; Refused in words where it is more than an item can be."""
        items = getattr(layer.content, "items", None)
        if items is None:
            raise Refused("Only shapes stand within a shape layer.", mend="Add it as a layer of its own.")
        known = layer.id in self.scene.places
        model = self.scene.layer(layer.id) if known else self.scene.layers[0]
        of_layers = type(layer).model_fields.keys() - Group.model_fields.keys() - ItemTransform.model_fields.keys()
        for name in sorted(of_layers - {"content"}):
            if getattr(layer, name) != getattr(model, name):
                raise Refused(
                    f"'{layer.name}' is a shape within a layer, and has no {_SAID.get(name, name)} of its own.",
                    mend="Change the layer that it lies in.",
                )
        own = {
            # Whatever is new here gets an id as it is laid beside the others.
            "id": layer.id if known else "",
            "name": self._name(layer, known), "visible": layer.visible, "transform": self._transform(layer, known),
            "repeat": self.item(origin).repeat if (origin := self.origin(layer)) else None, "effects": layer.effects,
        }  # fmt: skip
        group = known and isinstance(self.item(layer.id), Group)
        bare = len(items) == 1 and items[0].transform is None and not isinstance(items[0], Group)
        if bare and not group and not layer.masks:
            shape: Item = items[0].model_copy(update=own)
            return shape
        return Group(items=items, masks=layer.masks, **own)

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
        above, key = split_address(self.parent)
        if not above:
            return self.outer.with_layer(
                hold(self.outer, self.layer, self.layer.model_copy(update={"content": content}))
            )
        around = inside(self.outer, above)
        return around.with_group(key, {"items": content.items}, {"content": content}, hold)

    def with_group(self, key: str, changes: dict[str, Any], as_layer: dict[str, Any], hold: Hold) -> Scene:
        """The outer scene with parts of one of the parent's groups changed, which are those of the group as a layer."""
        group, place = self.item(key), self.scene.places[key]
        # A group without a transform has no anchor to be held at, and gets none.
        changed = group.model_copy(update=changes)
        if group.transform is not None:
            was = self.scene.layers[place]
            kept = hold(self.scene, was, was.model_copy(update=as_layer))
            changed = changed.model_copy(update={"transform": transform_of(kept)})
        siblings = list(self.items)
        siblings[place] = changed
        return self.with_items(tuple(siblings), hold)


class InsideMasks(Inside):
    """The inner scene of what masks lie on, its layers standing for the masks."""

    def put_back(self, changed: Scene, hold: Hold) -> Scene:
        same = {id(layer) for layer in self.scene.layers}
        masks = tuple(
            self.mask(layer.id) if id(layer) in same else self._changed_mask(layer) for layer in changed.layers
        )
        return self.with_masks(masks, hold)

    @property
    def items(self) -> tuple[Item, ...]:
        raise Refused("Masks are neither grouped nor repeated.", mend="Choose shapes of a layer.")

    def mask(self, key: str) -> Mask:
        """The mask of an id."""
        return self.layer.masks[self.scene.places[key]]

    def _changed_mask(self, layer: Layer) -> Mask:
        """A layer of the inner scene as a mask; Refused in words where it is more than a mask can be."""
        items: tuple[Item, ...] = getattr(layer.content, "items", ())
        more = layer.masks, layer.crop, layer.framing, layer.matte, layer.effects
        if len(items) != 1 or isinstance(items[0], Group) or any(more):
            raise Refused("A mask is one shape and nothing else.", mend="Choose a single shape.")
        origin = self.origin(layer)
        known = self.mask(origin) if origin else None
        bare: Any = items[0].model_copy(update={"id": "", "name": "", "transform": None, "repeat": None, "effects": ()})
        shape = unpainted(bare)
        if known and shape is not bare:
            raise Refused(
                "A mask has no colours of its own.",
                mend="Paint the layer that it masks; what the mask covers is chosen beside how it acts.",
            )
        if shape is not bare and shape.has_area:
            # What comes from elsewhere covers its inside; masks that are copied cover what they did.
            shape = bare.model_copy(update={"fill": None, "stroke": None})
        own = {
            "id": layer.id if layer.id == origin else "", "name": layer.name, "visible": layer.visible, "shape": shape,
            "transform": self._mask_transform(layer, known),
        }  # fmt: skip
        if known:
            return known.model_copy(update=own)
        return Mask(**own)

    def _mask_transform(self, layer: Layer, known: Mask | None) -> MaskTransform | None:
        if known is not None and known.transform is None:
            rest = known.at_rest
            if all(getattr(layer, name) is getattr(rest, name) for name in ItemTransform.model_fields):
                return None
        return MaskTransform.model_validate({name: getattr(layer, name) for name in ItemTransform.model_fields})

    def with_masks(self, masks: tuple[Mask, ...], hold: Hold) -> Scene:
        """The outer scene with the masks replaced; a shape that gets some becomes a group of itself."""
        owner, _ = split_address(self.parent)
        above, key = split_address(owner)
        checked = self.layer.model_copy(update={"masks": numbered(masks)})
        if not above:
            return self.outer.with_layer(hold(self.outer, self.layer, checked))
        around = inside(self.outer, above)
        if isinstance(around.item(key), Group):
            return around.with_group(key, {"masks": checked.masks}, {"masks": checked.masks}, hold)
        was = around.scene.layer(key)
        after = hold(around.scene, was, was.model_copy(update={"masks": checked.masks}))
        return around.put_back(around.scene.with_layer(after), hold)


def transform_of(layer: Layer) -> ItemTransform:
    """The motion of an item as a layer, as its transform."""
    return ItemTransform.model_validate({name: getattr(layer, name) for name in ItemTransform.model_fields})


def inside(scene: Scene, parent: str) -> Inside:
    """The inner scene of a layer or of a group within one; Refused in words where it is gone or has no items."""
    above, key = split_address(parent)
    if key == MASKS:
        return _inside_masks(scene, parent)
    layer = item_layer(scene, parent) if above else scene.layer(key)
    items = getattr(layer.content, "items", None)
    if above and not isinstance(inside(scene, above).item(key), Group):
        raise Refused(f"'{layer.name}' is a shape; only groups hold shapes.", mend="Group it first.")
    if items is None:
        raise Refused(f"'{layer.name}' is no shape layer; only those hold shapes.", mend="Choose a shape layer.")
    layers = tuple(as_layer(layer, index) for index in range(len(items)))
    inner = scene.model_copy(update={"id": layer.id.replace("/", "-")[:64], "name": layer.name, "layers": layers})
    inner.__dict__["_lies_in"] = scene, parent
    return Inside(scene, parent, layer, inner)


def _inside_masks(scene: Scene, parent: str) -> InsideMasks:
    owner, _ = split_address(parent)
    layer = item_layer(scene, owner)
    layers = tuple(mask_layer(layer, index) for index in range(len(layer.masks)))
    ident = f"{owner.replace('/', '-')}-masks"[-64:]
    inner = scene.model_copy(update={"id": ident, "name": f"Masks of {layer.name}"[:MOST_NAME], "layers": layers})
    inner.__dict__["_lies_in"] = scene, parent
    return InsideMasks(scene, parent, layer, inner)


def item_layer(scene: Scene, address: str) -> Layer:
    """An item as a layer whose id is its address; or a layer itself. Refused in words where it is gone."""
    parent, key = split_address(address)
    if not parent:
        return scene.layer(key)
    found = inside(scene, parent)
    if key not in found.scene.places:
        what = "mask" if isinstance(found, InsideMasks) else "shape"
        raise Refused(
            f"That {what} is not in '{found.layer.name}'; it may have been deleted in another window.",
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


def outer_path(scene: Scene, address: str, path: str) -> str:
    """The path in its layer of a property of an item or a mask, which has another one in it as a layer of the inner
    scene: `rotation` of `crab/1` is `content.items.1.transform.rotation`. Refused in words where it is gone."""
    layer_id, *keys = address.split("/")
    part: Any = scene.layer(layer_id)
    prefix, of_masks = "", False
    for key in keys:
        if key == MASKS:
            of_masks = True
            continue
        parts = part.masks if of_masks else getattr(getattr(part, "content", part), "items", ())
        index = next((i for i, one in enumerate(parts) if (one.id or str(i)) == key), None)
        if index is None:
            raise Refused(f"That shape or mask is not in '{scene.name}'; it may have been deleted in another window.")
        within = "masks" if of_masks else "items" if prefix else "content.items"
        prefix, part = f"{prefix}.{within}.{index}".lstrip("."), parts[index]
    if path.startswith("masks."):
        return f"{prefix}.{path}"
    if not path.startswith("content."):
        return f"{prefix}.transform.{path}"
    if of_masks:
        return f"{prefix}.shape.{path.removeprefix('content.items.0.')}"
    return f"{prefix}.{path.removeprefix('content.' if isinstance(part, Group) else 'content.items.0.')}"


def item_name(item: Item, index: int, count: int) -> str:
    """What an item is called: its name, or its kind, with its number where there are several.

    >>> from ..shapes import Ellipse
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
    bare = item.model_copy(update={"transform": None, "name": "", "visible": True, "repeat": None})
    name = item_name(item, index, len(items))
    made = _as_layer(item, index, name, parent, inner_items(item) if isinstance(item, Group) else (bare,))
    # Items are frozen, and a copy that is changed keeps nothing of this.
    item.__dict__["_layer"] = facts, made
    return made


def mask_layer(owner: Layer, index: int) -> Layer:
    """One of the masks of a layer, or of a group as one, as a layer of the inner scene, its id the mask's."""
    mask = owner.masks[index]
    facts = (index, owner.locked, owner.span)
    known = mask.__dict__.get("_layer")
    if known is not None and known[0] == facts:
        kept: Layer = known[1]
        return kept
    made = _as_layer(mask, index, mask.name, owner, (mask.shape,))
    mask.__dict__["_layer"] = facts, made
    return made


def _as_layer(part: Item | Mask, index: int, name: str, parent: Layer, items: tuple[Item, ...]) -> Layer:
    own = part.transform or part.at_rest
    made: Layer = type(parent).model_construct(
        id=part.id or str(index), name=name, visible=part.visible, locked=parent.locked, span=parent.span,
        blend="normal", content=ShapeContent.model_construct(kind="shape", items=items), anchor=own.anchor,
        position=own.position, scale=own.scale, rotation=own.rotation, opacity=own.opacity, variant="A", variants=(),
        unchecked=(), masks=getattr(part, "masks", ()), crop=None, framing=None, matte=None, carrier=None,
        effects=getattr(part, "effects", ()),
    )  # fmt: skip
    return made
