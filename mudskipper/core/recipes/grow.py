"""From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

from __future__ import annotations

from typing import Literal

from ..context import Context
from ..scene import Layer, Scene
from .base import LANDING, Length, Recipe, RecipeEase, Station, anchored, keyed, value_now


class GrowFromEdge(Recipe):
    """From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

    recipe: Literal["grow from an edge"] = "grow from an edge"
    station: Station = "bottom"
    length: Length = 14
    ease: RecipeEase = LANDING

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        layer = anchored(layer, at + self.length, (at, at + self.length), scene, context, self.station)
        x, y = value_now(layer, "scale", at + self.length, scene)
        flat = {"left": (0.0, y), "right": (0.0, y), "top": (x, 0.0), "bottom": (x, 0.0)}.get(self.station, (0.0, 0.0))
        return keyed(layer, "scale", scene, (at, flat, self.ease), (at + self.length, (x, y), "linear"))
