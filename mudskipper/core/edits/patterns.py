"""Edits of patterns: an item drawn several times, or once again."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from ..document.items_as_layers import inside, item_layer, split_address
from ..document.scene import Layer, Scene
from ..ground.base_model import Flag, LayerId
from ..ground.errors import Refused
from ..resolve.layers import ResolvedLayer
from ..shapes import Item, ItemTransform
from ..shapes.repeat import Repeat
from ..tracks.base import KeyFrame
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from ..tracks.motion import AnchorTrack
from .base import Edit, EditContext, name_of, unlocked
from .of_items import holding

DIAL = 12.0
"""Copies of a new pattern that turns about an anchor outside of the box."""
GAP = 1.25
"""The step of a new row of copies, in widths of the box."""


class SetRepeat(Edit):
    """Draw a shape or a group several times, or only once again. New copies stand in a row; about an anchor outside of
    its box, in a circle. A layer that is one shape turns them about its anchor, which the shape gets as its own."""

    takes_addresses: ClassVar[bool] = True

    edit: Literal["set_repeat"] = "set_repeat"
    layer: LayerId
    on: Flag
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        unlocked(scene, self.layer.split("/")[0])
        parent, key = split_address(self.layer)
        hold = holding(context)
        if parent:
            found = inside(scene, parent)
            item_layer(scene, self.layer)
            one = context.of(found.scene).one(found.scene.layer(key), self.frame)
            items: list[Item] = list(found.items)
            place = found.scene.places[key]
            items[place] = self._repeated(items[place], one)
            return found.with_items(tuple(items), hold)
        layer = scene.layer(self.layer)
        items = list(getattr(layer.content, "items", ()))
        if len(items) != 1:
            raise Refused(
                f"'{layer.name}' is no single shape.", where="layer", mend="Go into it, and choose a shape or a group."
            )
        one = context.of(scene).one(layer, self.frame)
        item = self._repeated(items[0], one)
        if self.on and item.transform is None:
            x, y = (float(n) for n in one.anchor[0])
            own = ItemTransform(anchor=AnchorTrack(rest=(x, y), pinned=False), position=PathTrack(rest=(x, y)))
            item = item.model_copy(update={"transform": own})
        content = layer.content.model_copy(update={"items": (item,)})
        after: Layer = layer.model_copy(update={"content": content})
        return scene.with_layer(hold(scene, layer, after))

    def _repeated(self, item: Item, one: ResolvedLayer) -> Item:
        repeat = (item.repeat or _first(one)) if self.on else None
        return item.model_copy(update={"repeat": repeat})

    def words(self, scene: Scene) -> str:
        return f"{'Repeated' if self.on else 'Drew once again'} {name_of(scene, self.layer)}"


def _first(one: ResolvedLayer) -> Repeat:
    """The pattern that an item begins with."""
    changes: dict[str, Any] = {"move": PairTrack(rest=(round(max(float(one.box[0, 2]) * GAP, 1.0), 1), 0.0))}
    fraction = np.asarray(one.fraction[0])
    if (fraction < 0).any() or (fraction > 1).any():
        changes = {"copies": NumberTrack(rest=DIAL), "turn": NumberTrack(rest=360.0 / DIAL)}
    return Repeat(**changes)
