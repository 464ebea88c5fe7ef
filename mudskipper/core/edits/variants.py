"""Edits of variants: versions of a layer's motion, kept beside one another."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..document.scene import Scene, Variant
from ..document.variant_differences import motion_of, switched, variant_of
from ..ground.base_model import LayerId, Name
from ..ground.errors import Refused
from .base import Edit, EditContext, name_of, unlocked

MOST = 26


class KeepVariant(Edit):
    """Keep the present motion as a variant, and go on with a copy of it under another name."""

    sets_formulas: ClassVar[bool] = True

    edit: Literal["keep_variant"] = "keep_variant"
    layer: LayerId
    name: Name | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        taken = {layer.variant, *(variant.name for variant in layer.variants)}
        if len(taken) >= MOST:
            raise Refused(f"'{layer.name}' keeps {MOST} variants already.", mend="Delete one first.")
        letters = (chr(ord("A") + n) for n in range(MOST))
        name = self.name or next(letter for letter in letters if letter not in taken)
        if name in taken:
            raise Refused(f"'{layer.name}' has a variant '{name}' already.", where="name", mend="Choose another name.")
        kept = Variant(name=layer.variant, **motion_of(layer))
        return scene.with_layer(layer.model_copy(update={"variant": name, "variants": (*layer.variants, kept)}))

    def words(self, scene: Scene) -> str:
        return f"Kept the motion of {name_of(scene, self.layer)} as a variant"


class SwitchVariant(Edit):
    """Let a layer move as one of its variants does."""

    sets_formulas: ClassVar[bool] = True

    edit: Literal["switch_variant"] = "switch_variant"
    layer: LayerId
    name: Name

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        return scene.with_layer(switched(unlocked(scene, self.layer), self.name))

    def words(self, scene: Scene) -> str:
        return f"Switched {name_of(scene, self.layer)} to variant {self.name}"


class DeleteVariant(Edit):
    """Delete a kept variant; the one in use stays."""

    sets_formulas: ClassVar[bool] = True

    edit: Literal["delete_variant"] = "delete_variant"
    layer: LayerId
    name: Name

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        gone = variant_of(layer, self.name)
        return scene.with_layer(
            layer.model_copy(update={"variants": tuple(variant for variant in layer.variants if variant is not gone)})
        )

    def words(self, scene: Scene) -> str:
        return f"Deleted variant {self.name} of {name_of(scene, self.layer)}"
