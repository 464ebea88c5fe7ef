"""From another size to its own, springing to rest."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..assets import Assets
from ..easings import Spring, SpringNumbers
from ..scene import Layer, Scene
from .base import Length, Percent, Recipe, keyed, value_now


class Settle(Recipe):
    """From another size to its own, springing to rest."""

    recipe: Literal["settle with bounce"] = "settle with bounce"
    size: Percent = 60.0
    length: Length = 24
    damping: Annotated[float, Field(strict=True, ge=0.05, le=3)] = 0.4

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        x, y = value_now(layer, "scale", at + self.length, scene)
        small = (x * self.size / 100, y * self.size / 100)
        ease = Spring(spring=SpringNumbers(response=0.45, damping=self.damping))
        return keyed(layer, "scale", scene, (at, small, ease), (at + self.length, (x, y), "linear"))
