"""Edits of the items of a shape layer: groups made and taken apart, shapes turned into paths."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.items_as_layers import as_layer, inside, item_layer, located, split_address, transform_of
from ..document.scene import Layer, Scene
from ..geometry.bezier import Floats
from ..ground.base_model import LayerId, Name
from ..ground.errors import Refused
from ..moves.as_path import ValuesAt, as_path, plain_values
from ..moves.carrying import put_under
from ..resolve.context import Context
from ..resolve.items import items_resolved
from ..shapes import Group, Item
from .base import Edit, EditContext, name_of, names_of, unlocked
from .of_items import holding, parent_of


class MakePaths(Edit):
    """Turn shapes into paths, with no visible change; those of a group, or of a whole layer, all of them."""

    edit: Literal["make_paths"] = "make_paths"
    layers: Annotated[tuple[LayerId, ...], Field(min_length=1, max_length=5_000)]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        hold = holding(context)
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            if not getattr(layer.content, "items", ()):
                raise Refused(f"'{layer.name}' is no shape.", where="layers", mend="Choose a shape layer.")
            after = hold(scene, layer, _with_items(layer, _paths(layer, layer, layer_id, scene, context)))
            scene = scene.with_layer(after)
            more = sum(len(one.keys) for one in after.tracks.values()) - sum(len(o.keys) for o in layer.tracks.values())
            if more > 0:
                context.notices.append(f"The points of '{layer.name}' are keyed as its numbers were: {more} more keys.")
        return scene

    def words(self, scene: Scene) -> str:
        return f"Turned {names_of(scene, self.layers)} into {'a path' if len(self.layers) == 1 else 'paths'}"


def _with_items(layer: Layer, items: tuple[Item, ...]) -> Layer:
    return layer.model_copy(update={"content": layer.content.model_copy(update={"items": items})})


def _paths(parent: Layer, outer: Layer, address: str, scene: Scene, context: EditContext) -> tuple[Item, ...]:
    """The items of a layer or group, which lies in an `outer` layer at an address, as paths. The box of a path is that
    of its outline: where it is another than the shape's was, an item with a transform of its own is held in place."""
    items: tuple[Item, ...] = parent.content.items
    layers = tuple(as_layer(parent, index) for index in range(len(items)))
    inner = scene.model_copy(update={"layers": layers})
    made: list[Item] = []
    for index, (item, layer) in enumerate(zip(items, layers, strict=True)):
        place = f"{address}/{item.id or index}"
        if isinstance(item, Group):
            path: Item = item.model_copy(update={"items": _paths(layer, outer, place, scene, context)})
            inside_of: tuple[Item, ...] = getattr(path, "items", ())
        else:
            path = as_path(item, parent.span.length, _values_in(outer, place, item, context.of(scene)))
            inside_of = (path.model_copy(update={"transform": None, "name": "", "visible": True}),)
        if item.transform is not None:
            kept = holding(context)(inner, layer, _with_items(layer, inside_of))
            path = path.model_copy(update={"transform": transform_of(kept)})
        made.append(path)
    return tuple(made)


def _values_in(outer: Layer, address: str, item: Item, context: Context) -> ValuesAt:
    """The values of an item at an address in a layer, as they are in it: its formulas counted in."""
    if not outer.formulas:
        return plain_values(item, context.scene.fps)

    def at(frames: Floats) -> dict[str, Floats]:
        (resolved,) = context.resolve([outer], frames + outer.span.start)
        leaf = items_resolved(resolved, context.around(outer, resolved.frames))[address]
        found = {path.removeprefix("content.items.0."): array for path, array in leaf.values.items()}
        return {path: found.get(path, array) for path, array in plain_values(item, context.scene.fps)(frames).items()}

    return at


class GroupItems(Edit):
    """Put shapes of one layer or group into a group of their own, at the place of the frontmost of them."""

    takes_addresses: ClassVar[bool] = True

    edit: Literal["group_items"] = "group_items"
    layers: Annotated[tuple[LayerId, ...], Field(min_length=1, max_length=5_000)]
    name: Name | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        parent = parent_of(self)
        if not parent:
            raise Refused(
                "Only shapes within a layer are grouped.", where="layers", mend="Go into a shape layer first."
            )
        found = inside(scene, parent)
        unlocked(scene, parent.split("/")[0])
        for one in self.layers:
            item_layer(scene, one)
        places = sorted({found.scene.places[split_address(one)[1]] for one in self.layers})
        items: tuple[Item, ...] = found.items
        group = Group(items=tuple(items[place] for place in places), name=self.name or "")
        kept: list[Item] = [group if i == places[-1] else item for i, item in enumerate(items) if i not in places[:-1]]
        return found.with_items(tuple(kept), holding(context))

    def words(self, scene: Scene) -> str:
        one = len(self.layers) == 1
        return f"Grouped {name_of(scene, self.layers[0])}" if one else f"Grouped {len(self.layers)} shapes"


class UngroupItems(Edit):
    """Take a group apart; its shapes stay where they are, and move as they did."""

    takes_addresses: ClassVar[bool] = True

    edit: Literal["ungroup_items"] = "ungroup_items"
    layer: LayerId

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        parent, key = split_address(self.layer)
        if not parent:
            raise Refused("A layer is no group.", where="layer", mend="Go into it, and choose a group.")
        unlocked(scene, parent.split("/")[0])
        found = inside(scene, parent)
        name = item_layer(scene, self.layer).name
        group = found.item(key)
        if not isinstance(group, Group):
            raise Refused(f"'{name}' is no group.", where="layer", mend="Choose a group.")
        if group.masks or group.repeat:
            what = "masked" if group.masks else "repeated"
            raise Refused(
                f"'{name}' is {what}, which its shapes could not be by themselves.", where="layer",
                mend="Delete its masks first." if group.masks else "Turn its pattern off first.",
            )  # fmt: skip
        freed = group.items if group.transform is None else self._freed(group, name, scene, context)
        if not group.visible:
            freed = tuple(item.model_copy(update={"visible": False}) for item in freed)
        items: tuple[Item, ...] = found.items
        place = found.scene.places[key]
        # Their ids may be those of shapes that they are laid beside now.
        freed = tuple(item.model_copy(update={"id": ""}) for item in freed)
        return found.with_items((*items[:place], *freed, *items[place + 1 :]), holding(context))

    def _freed(self, group: Group, name: str, scene: Scene, context: EditContext) -> tuple[Item, ...]:
        """The shapes of a group with its transform put into theirs; Refused where they could not stay as they are."""
        own = group.transform
        assert own is not None
        layers = inside(scene, self.layer).scene.layers
        tracks: list[Any] = [own.anchor, own.scale, own.rotation, own.opacity, getattr(own.position, "x", own.position)]
        tracks.append(getattr(own.position, "y", own.position))
        if any(track.moves for track in tracks):
            raise Refused(
                f"'{name}' moves by itself.", where="layer", mend="Turn its keyframing off, or its formula, first."
            )
        if own.scale.rest[0] != own.scale.rest[1] or own.scale.rest[0] <= 0 or own.opacity.rest != 100.0:
            raise Refused(
                f"'{name}' is stretched, mirrored or faded, which its shapes could not be by themselves.",
                where="layer", mend="Bring its scale x and y together, and its opacity to 100 %.",
            )  # fmt: skip
        frames = np.arange(layers[0].span.start, layers[0].span.end, dtype=np.float64)
        around, group_layer = located(scene, self.layer)
        # A pinned anchor goes along with the box of the group: its shapes then follow it by keys.
        (resolved,) = context.of(around).resolve([group_layer], frames)
        between = np.broadcast_to(resolved.matrix, (len(frames), 6))
        within = context.of(inside(scene, self.layer).scene)
        return tuple(
            item.model_copy(
                update={"transform": transform_of(put_under(layer, layer, between, frames, "throughout", within))}
            )
            for item, layer in zip(group.items, layers, strict=True)
        )

    def words(self, scene: Scene) -> str:
        return f"Took {name_of(scene, self.layer)} apart"
