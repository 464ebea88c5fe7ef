"""From another size to its own, springing to rest."""

from __future__ import annotations

from typing import Annotated, Literal

from ..document.scene import Layer, Scene
from ..easings import Spring, SpringNumbers
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Damping, Length, Percent, Recipe, keyed, value_now


class Settle(Recipe):
    """From another size to its own, springing to rest."""

    recipe: Literal["settle with bounce"] = "settle with bounce"
    size: Annotated[Percent, Shown("From size", "%")] = 60.0
    length: Length = 24
    damping: Damping = 0.4

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        x, y = value_now(layer, "scale", at + self.length, scene)
        small = (x * self.size / 100, y * self.size / 100)
        ease = Spring(spring=SpringNumbers(response=0.45, damping=self.damping))
        return keyed(layer, "scale", scene, (at, small, ease), (at + self.length, (x, y), "linear"))
