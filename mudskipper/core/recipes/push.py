"""Enlarged about a point of its own, given as fractions of the box."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.scene import Layer, Scene
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Length, Percent, Recipe, RecipeEase, anchored, keyed, value_now


class PushIn(Recipe):
    """Enlarged about a point of its own, given as fractions of the box."""

    of_scene: ClassVar[bool] = True

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["push in on a point"] = "push in on a point"
    point: Annotated[
        tuple[Annotated[float, Field(strict=True)], Annotated[float, Field(strict=True)]],
        Shown("Point", "", ("x", "y"), step=0.05),
    ] = (0.5, 0.5)
    zoom: Annotated[Percent, Field(gt=0), Shown("Zoom", "%")] = 140.0
    length: Length = 60
    ease: RecipeEase = "ease-in-out"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        window = (at, at + self.length)
        layer = anchored(
            layer, at, window, scene, context, lambda now: now.box[:2] + np.array(self.point) * now.box[2:]
        )
        x, y = value_now(layer, "scale", at, scene)
        grown = (x * self.zoom / 100, y * self.zoom / 100)
        return keyed(layer, "scale", scene, (at, (x, y), self.ease), (at + self.length, grown, "linear"))
