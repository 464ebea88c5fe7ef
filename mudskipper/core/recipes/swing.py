"""Turned in about a corner, swinging to rest."""

from __future__ import annotations

from typing import Literal

from ..document.scene import Layer, Scene
from ..easings import Spring, SpringNumbers
from ..resolve.context import Context
from .base import Angle, Damping, Length, Recipe, Station, anchored, keyed, value_now


class SwingIn(Recipe):
    """Turned in about a corner, swinging to rest."""

    recipe: Literal["swing in on a corner"] = "swing in on a corner"
    station: Station = "top left"
    angle: Angle = -90.0
    length: Length = 30
    damping: Damping = 0.35

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        layer = anchored(layer, at + self.length, (at, at + self.length), scene, context, self.station)
        rest = value_now(layer, "rotation", at + self.length, scene)
        ease = Spring(spring=SpringNumbers(response=0.4, damping=self.damping))
        return keyed(layer, "rotation", scene, (at, rest + self.angle, ease), (at + self.length, rest, "linear"))
