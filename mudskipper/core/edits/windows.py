"""Edits of a layer's window: its crop, its matte, and the content moved behind it."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..document.framing import Crop, Framing
from ..document.matte import Matte
from ..document.scene import Scene
from ..ground.base_model import Flag, Id, Pair, WholeLayer
from ..ground.errors import Refused
from ..tracks.base import KeyFrame
from ..tracks.evaluate import value_at
from .base import Edit, EditContext, View, name_of, one_step, unlocked
from .transform_layers import set_at


class SetCrop(Edit):
    """Crop a layer by its edges, to its own box at first, or crop it no more."""

    takes_items: ClassVar[bool] = False

    edit: Literal["set_crop"] = "set_crop"
    layer: WholeLayer
    on: Flag
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        box = context.of(scene).one(layer, self.frame).box[0]
        crop = (layer.crop or Crop.around(box)) if self.on else None
        return scene.with_layer(layer.model_copy(update={"crop": crop}))

    def words(self, scene: Scene) -> str:
        return f"{'Cropped' if self.on else 'Took the crop off'} {name_of(scene, self.layer)}"


class SetFraming(Edit):
    """Frame the content of a layer behind its masks or its crop, or put it back where it is drawn."""

    takes_items: ClassVar[bool] = False

    edit: Literal["set_framing"] = "set_framing"
    layer: WholeLayer
    on: Flag

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        framing = (layer.framing or Framing()) if self.on else None
        return scene.with_layer(layer.model_copy(update={"framing": framing}))

    def words(self, scene: Scene) -> str:
        return f"{'Framed' if self.on else 'Took the framing off'} {name_of(scene, self.layer)}"


class MoveContent(Edit):
    """Move the content of a layer by (x, y) scene pixels behind its masks or its crop, which stay, as its anchor does.

    A layer without either is cropped to its own box by it.
    """

    takes_items: ClassVar[bool] = False
    sets_values: ClassVar[bool] = True

    edit: Literal["move_content"] = "move_content"
    layer: WholeLayer
    frame: KeyFrame
    by: Pair

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        matrix = context.of(scene).one(layer, self.frame).matrix[0]
        x, y = View(scene, layer, matrix).step(self.by)
        framing = layer.framing or Framing()
        was = value_at(framing.offset, self.frame - layer.span.start, scene.fps)
        after = layer.model_copy(update={"framing": framing})
        offset = tuple(round(a + b, 6) for a, b in zip(was, (x, y), strict=True))
        return scene.with_layer(set_at(after, scene, self.frame, "framing.offset", offset))

    def words(self, scene: Scene) -> str:
        return f"Moved the content of {name_of(scene, self.layer)} by {self.by[0]:g}, {self.by[1]:g} px"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.frame

    def joined(self, later: Edit) -> Edit | None:
        return one_step(self, later)


class SetMatte(Edit):
    """Show a layer only where another one is, `matte`, by its opacity or its brightness, or where it is not; with `off`
    everywhere. What is left out stays as it is. `hide` hides the other from the picture."""

    takes_items: ClassVar[bool] = False

    edit: Literal["set_matte"] = "set_matte"
    layer: WholeLayer
    matte: Id | None = None
    by: Literal["opacity", "brightness"] | None = None
    inverted: Flag | None = None
    off: Flag = False
    hide: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        if self.off:
            return scene.with_layer(layer.model_copy(update={"matte": None}))
        other = self.matte or (layer.matte and layer.matte.layer)
        if not other:
            raise Refused(f"'{layer.name}' has no matte.", where="matte", mend="Choose the layer to show it in.")
        if scene.layer(other).id == layer.id:
            raise Refused("A layer cannot be its own matte.", where="matte", mend="Choose another layer.")
        changes = {name: value for name in ("by", "inverted") if (value := getattr(self, name)) is not None}
        matte = (layer.matte or Matte(layer=other)).model_copy(update={"layer": other, **changes})
        scene = scene.with_layer(layer.model_copy(update={"matte": matte}))
        return scene.with_layer(scene.layer(other).model_copy(update={"visible": False})) if self.hide else scene

    def words(self, scene: Scene) -> str:
        if self.off:
            return f"Took the matte off {name_of(scene, self.layer)}"
        if self.matte is None:
            return f"Changed the matte of {name_of(scene, self.layer)}"
        return f"Showed {name_of(scene, self.layer)} only where {name_of(scene, self.matte)} is"
