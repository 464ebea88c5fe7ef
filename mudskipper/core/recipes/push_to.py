"""Enlarged until a place of the picture stands in the middle."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.scene import Layer, Scene
from ..ground.base_model import Pair
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Length, Percent, Recipe, RecipeEase, keyed, on_one_path, value_now


class PushTo(Recipe):
    """Enlarged about its anchor, and moved so that a place of the scene, picked on the stage, comes to its middle."""

    of_scene: ClassVar[bool] = True
    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["push in on a place"] = "push in on a place"
    place: Annotated[Pair | None, Shown("Place", "px", ("x", "y"))] = None
    zoom: Annotated[Percent, Field(gt=0), Shown("Zoom", "%")] = 180.0
    length: Length = 45
    ease: RecipeEase = "ease-in-out"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        layer = on_one_path(layer, scene)
        middle = np.array([scene.width / 2, scene.height / 2])
        place = np.array(self.place) if self.place else middle
        now = context.one(layer, at + layer.span.start)
        factor, end = self.zoom / 100, at + self.length
        # The place is as far from the anchor as it was, so many times over.
        step = now.own_step(middle - (place + (factor - 1) * (place - now.place[0])))
        x, y = value_now(layer, "position", at, scene)
        there = (float(x + step[0]), float(y + step[1]))
        layer = keyed(layer, "position", scene, (at, (x, y), self.ease), (end, there, "linear"))
        wide, high = value_now(layer, "scale", at, scene)
        grown = (wide * factor, high * factor)
        return keyed(layer, "scale", scene, (at, (wide, high), self.ease), (end, grown, "linear"))
