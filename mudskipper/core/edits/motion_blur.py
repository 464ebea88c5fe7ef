"""Edits of motion blur: of the scene, and which layers have it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..document.scene import MotionBlur, Scene
from ..ground.base_model import Flag, Number, Whole, WholeLayer
from .base import Edit, EditContext, names_of, unlocked


class SetMotionBlur(Edit):
    """Blur what moves in the scene, or no longer; numbers that are left out stay."""

    edit: Literal["set_motion_blur"] = "set_motion_blur"
    on: Flag = True
    shutter: Annotated[Number, Field(ge=1, le=720)] | None = None
    phase: Annotated[Number, Field(ge=-360, le=360)] | None = None
    samples: Annotated[Whole, Field(ge=2, le=64)] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        if not self.on:
            return scene.model_copy(update={"motion_blur": None})
        given = {name: getattr(self, name) for name in ("shutter", "phase", "samples")}
        changes = {name: value for name, value in given.items() if value is not None}
        made = (scene.motion_blur or MotionBlur()).model_copy(update=changes)
        return scene.model_copy(update={"motion_blur": made})

    def words(self, scene: Scene) -> str:
        if not self.on:
            return "Switched the motion blur off"
        return "Set the motion blur" if scene.motion_blur else "Switched the motion blur on"

    def target(self) -> tuple[object, ...]:
        return tuple(name for name in ("shutter", "phase", "samples") if getattr(self, name) is not None)


class BlurLayers(Edit):
    """Let layers be blurred by their motion where the scene is, or not."""

    takes_items: ClassVar[bool] = False

    edit: Literal["blur_layers"] = "blur_layers"
    layers: Annotated[tuple[WholeLayer, ...], Field(min_length=1, max_length=5_000)]
    on: Flag

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for name in self.layers:
            scene = scene.with_layer(unlocked(scene, name).model_copy(update={"motion_blur": self.on}))
        return scene

    def words(self, scene: Scene) -> str:
        return f"Switched the motion blur of {names_of(scene, self.layers)} {'on' if self.on else 'off'}"
