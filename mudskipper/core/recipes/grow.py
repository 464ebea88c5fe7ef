"""From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

from __future__ import annotations

from typing import Literal

from ..assets import Assets
from ..easing import Ease
from ..scene import Layer, Scene
from .base import LANDING, Length, Recipe, Station, anchored, keyed, value_now


class GrowFromEdge(Recipe):
    """From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

    recipe: Literal["grow from an edge"] = "grow from an edge"
    station: Station = "bottom"
    length: Length = 14
    ease: Ease = LANDING

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        layer = anchored(layer, at + self.length, (at, at + self.length), scene, assets, self.station)
        x, y = value_now(layer, "scale", at + self.length, scene)
        flat = {"left": (0.0, y), "right": (0.0, y), "top": (x, 0.0), "bottom": (x, 0.0)}.get(self.station, (0.0, 0.0))
        return keyed(layer, "scale", scene, (at, flat, self.ease), (at + self.length, (x, y), "linear"))
